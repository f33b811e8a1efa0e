import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useFetcher, useRevalidator } from "react-router";
import { brandColors, SCHEMES, type BrandChoice } from "#core/brand/colors";
import type { Emblem } from "#server/workspaces/brands";
import { Folded } from "../components/Folded";
import { PictureButton } from "../components/PictureButton";
import { BrandPreview } from "./BrandPreview";
import { FormError } from "../components/FormError";

const PARTS = { accent: "Buttons, links, and what has been played", bar: "The bar at the top" } as const;
const PART_NAMES = Object.keys(PARTS) as (keyof BrandChoice)[];
/** Where somebody begins who had ours. */
const OURS = { accent: "#2f7d5b", bar: "#16302b" };
const COLOR = /^#[\da-f]{6}$/i;

export interface ChosenBrand extends BrandChoice {
  name: string;
  emblem: Emblem | null;
}

/** For owners: how the links of the workspace look, in both schemes. */
export function BrandFold({ brand }: { brand: ChosenBrand }) {
  const { name, emblem } = brand;
  const fetcher = useFetcher<{ error: string | null }>();
  const { revalidate } = useRevalidator();
  const [choice, setChoice] = useState<BrandChoice>({ accent: brand.accent, bar: brand.bar });
  const { state, data } = fetcher;
  const busy = state !== "idle";
  const send = (fields: Record<string, string>) =>
    void fetcher.submit(fields, { method: "post", action: "/workspace" });
  const wrong = PART_NAMES.some((part) => choice[part] !== null && !COLOR.test(choice[part]));
  const shown = {
    accent: choice.accent && COLOR.test(choice.accent) ? choice.accent : null,
    bar: choice.bar && COLOR.test(choice.bar) ? choice.bar : null,
  };
  return (
    <Folded title="Emblem and colours" value={summary(brand)}>
      <Typography sx={{ maxWidth: 640 }}>
        Guests see them at your links, in other pages, and in folders. A colour in which something could not be read is
        made darker or lighter, as far as that is needed.
      </Typography>
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap" }}>
        <PictureButton
          to="/emblems/new"
          label={emblem ? "Another emblem" : "Choose an emblem"}
          onTaken={() => void revalidate()}
        />
        {emblem && (
          <Button size="small" disabled={busy} onClick={() => send({ do: "no-emblem" })}>
            Take it off
          </Button>
        )}
      </Box>
      <Box
        component="form"
        aria-label="Colours"
        onSubmit={(e) => {
          e.preventDefault();
          send({ do: "brand", accent: choice.accent ?? "", bar: choice.bar ?? "" });
        }}
        sx={{ display: "grid", gap: 2, justifyItems: "start" }}
      >
        {PART_NAMES.map((part) => (
          <ColorField
            key={part}
            label={PARTS[part]}
            ours={OURS[part]}
            color={choice[part]}
            onColor={(color) => setChoice({ ...choice, [part]: color })}
          />
        ))}
        <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, gap: 2, width: "100%" }}>
          {SCHEMES.map((scheme) => (
            <BrandPreview
              key={scheme}
              scheme={scheme}
              name={name}
              emblem={emblem}
              colors={brandColors(shown, scheme)}
            />
          ))}
        </Box>
        <Button type="submit" variant="outlined" disabled={busy || wrong}>
          Keep these colours
        </Button>
      </Box>
      <FormError error={data?.error} />
      {state === "idle" && data?.error === null && (
        <Typography role="status">Kept. Links look so from now on.</Typography>
      )}
    </Folded>
  );
}

interface ColorProps {
  label: string;
  ours: string;
  color: string | null;
  onColor: (color: string | null) => void;
}

/** A colour by its picture or by its digits; or ours. */
function ColorField({ label, ours, color, onColor }: ColorProps) {
  const wrong = color !== null && !COLOR.test(color);
  return (
    <Box role="group" aria-label={label} sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap" }}>
      <Box
        component="input"
        type="color"
        aria-label={`${label}: choose a colour`}
        value={color !== null && !wrong ? color.toLowerCase() : ours}
        onChange={(e: React.ChangeEvent<HTMLInputElement>) => onColor(e.target.value)}
        sx={{ width: 48, height: 40, p: 0.5, border: "1px solid", borderColor: "mist", bgcolor: "background.paper" }}
      />
      <TextField
        size="small"
        label={label}
        value={color ?? ""}
        placeholder="ours"
        onChange={(e) => onColor(e.target.value.trim() === "" ? null : e.target.value.trim())}
        error={wrong}
        helperText={wrong ? "Six digits, like #2f7d5b" : undefined}
        slotProps={{
          inputLabel: { shrink: true },
          htmlInput: { maxLength: 7, spellCheck: false, autoComplete: "off" },
        }}
        sx={{ width: { xs: 200, sm: 320 } }}
      />
      {color !== null && (
        <Button size="small" onClick={() => onColor(null)} aria-label={`${label}: ours`}>
          Ours
        </Button>
      )}
    </Box>
  );
}

function summary({ emblem, accent, bar }: ChosenBrand): string {
  const own = accent !== null || bar !== null;
  if (!emblem && !own) return "ours";
  return [emblem && "an emblem", own && "colours of its own"].filter(Boolean).join(", ");
}
