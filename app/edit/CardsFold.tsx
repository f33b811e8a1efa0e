import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Slider from "@mui/material/Slider";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { CARD_STYLES, CARD_STAYS, CARD_TEXT_MAX, isWebAddress, type Card, type CardStyle } from "#core/layout/card";
import type { CARDS, Dress, Put } from "#core/recipe/dress";
import { SECOND } from "#core/time/micros";
import { Folded } from "../components/Folded";
import { OneOf } from "../components/OneOf";
import { CardView } from "../player/CardView";
import { useLetGo } from "./useLetGo";

interface Props {
  cards: Dress["cards"];
  title: string;
  /** who shows it, and when it was recorded, in words */
  name: string;
  date: string;
  onPut: (puts: Put[]) => void;
}

type Which = (typeof CARDS)[number];
const STYLE_NAMES: Record<CardStyle, string> = { panes: "Panes", arch: "Arch", lines: "Lines" };
const STYLE_CHOICES = CARD_STYLES.map((value) => ({ value, name: STYLE_NAMES[value] }));

/** Words before the beginning, and after the end. They take no time of the recording. */
export function CardsFold({ cards = {}, title, name, date, onPut }: Props) {
  const there = [...(cards.opening ? ["at the beginning"] : []), ...(cards.closing ? ["at the end"] : [])];
  const empty: Card = { style: "panes", title, name, date, next: "", url: "", stays: 3 * SECOND };
  const set = (id: Which, value: Card | null) => onPut([{ facet: "cards", id, value }]);
  return (
    <Folded later title="Cards" value={there.length === 0 ? "none" : there.join(" and ")}>
      <OneCard which="opening" card={cards.opening} empty={empty} onSet={(card) => set("opening", card)} />
      <OneCard
        which="closing"
        card={cards.closing}
        empty={{ ...empty, title: "What is next", name: "", date: "" }}
        onSet={(card) => set("closing", card)}
      />
    </Folded>
  );
}

interface OneProps {
  which: Which;
  card: Card | undefined;
  empty: Card;
  onSet: (card: Card | null) => void;
}

function OneCard({ which, card, empty, onSet }: OneProps) {
  const begins = which === "opening";
  if (!card)
    return (
      <Button size="small" variant="outlined" onClick={() => onSet(empty)} sx={{ justifySelf: "start" }}>
        {begins ? "A card at the beginning" : "A card at the end"}
      </Button>
    );
  const set = (change: Partial<Card>) => onSet({ ...card, ...change });
  return (
    <Box
      role="group"
      aria-label={begins ? "Card at the beginning" : "Card at the end"}
      sx={{ display: "grid", gap: 1 }}
    >
      <Typography variant="body2" sx={{ fontWeight: 600 }}>
        {begins ? "At the beginning" : "At the end"}
      </Typography>
      <Box sx={{ position: "relative", aspectRatio: "16 / 9", border: "1px solid", borderColor: "mist" }}>
        <CardView card={card} />
      </Box>
      <OneOf label="Style" value={card.style} choices={STYLE_CHOICES} onChoose={(style) => set({ style })} />
      <WordField label="Title" value={card.title} onWrite={(text) => set({ title: text })} />
      <WordField label="Name" value={card.name} onWrite={(text) => set({ name: text })} />
      <WordField label="Date" value={card.date} onWrite={(text) => set({ date: text })} />
      <WordField label="Next step" value={card.next} onWrite={(next) => set({ next })} />
      {!begins && (
        <WordField
          label="Address it leads to"
          value={card.url}
          most={500}
          isRight={(url) => url === "" || isWebAddress(url)}
          wrong="An address begins with https://"
          onWrite={(url) => set({ url })}
        />
      )}
      {begins && <Stays value={card.stays / SECOND} onSet={(seconds) => set({ stays: seconds * SECOND })} />}
      <Button size="small" onClick={() => onSet(null)} sx={{ justifySelf: "start" }}>
        Without this card
      </Button>
    </Box>
  );
}

function Stays({ value, onSet }: { value: number; onSet: (seconds: number) => void }) {
  const { shown, slider } = useLetGo(value, onSet);
  return (
    <Box sx={{ display: "grid" }}>
      <Typography variant="body2">Stays for {shown} s, then it plays</Typography>
      <Slider
        data-own-keys
        size="small"
        aria-label="How long the card stays, in seconds"
        min={CARD_STAYS.least / SECOND}
        max={CARD_STAYS.most / SECOND}
        {...slider}
        sx={{ mx: 1, width: "auto" }}
      />
    </Box>
  );
}

interface WordProps {
  label: string;
  value: string;
  most?: number;
  isRight?: (text: string) => boolean;
  wrong?: string;
  onWrite: (text: string) => void;
}

/** Words that are kept when they are left, or with Enter: one step, and not one for each letter. */
function WordField({ label, value, most = CARD_TEXT_MAX, isRight = () => true, wrong, onWrite }: WordProps) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const tidy = text.trim();
  const write = () => {
    if (tidy !== value && isRight(tidy)) onWrite(tidy);
  };
  return (
    <TextField
      size="small"
      label={label}
      value={text}
      error={!isRight(tidy)}
      helperText={isRight(tidy) ? undefined : wrong}
      slotProps={{ htmlInput: { maxLength: most } }}
      onChange={(event) => setText(event.target.value)}
      onBlur={write}
      onKeyDown={(event) => event.key === "Enter" && write()}
    />
  );
}
