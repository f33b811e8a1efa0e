import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useCallback, useEffect, useRef, useState } from "react";
import type { KeptTake } from "#capture/outbox/store";
import { USUAL_ARRANGEMENT } from "#core/layout/layout";
import { alone, sceneOf, type Scene } from "#core/layout/scene";
import type { TrackKind } from "#core/media/tracks";
import { formatClock, SECOND } from "#core/time/micros";
import { LocalFrame } from "./LocalFrame";
import { theOutbox } from "./outbox";

/** Further apart than this, the pictures are put to where the sound is, in seconds. */
const APART = 0.2;
const LOOK_MS = 250;
const FRAME = { width: 16, height: 9 };

type Addresses = Partial<Record<TrackKind, string>>;

/** Plays what is on this computer of a take, without the server. */
export function PlayHere({ take, onClose }: { take: KeptTake; onClose: () => void }) {
  const addresses = useAddresses(take.takeId);
  return (
    <Dialog open fullWidth maxWidth="md" onClose={onClose} aria-labelledby="play-here">
      <DialogTitle id="play-here">{take.title}</DialogTitle>
      <DialogContent>
        {addresses === null ? (
          <Typography role="status">Reading it …</Typography>
        ) : Object.keys(addresses).length === 0 ? (
          <Typography role="status">Nothing of it can be played from here: most of it is on the server.</Typography>
        ) : (
          <Played addresses={addresses} scene={firstScene(take, addresses)} />
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

/** What it began with, where that is still here. */
function firstScene({ entries }: KeptTake, { screen, camera }: Addresses): Scene {
  if (!screen || !camera) return alone("screen");
  const first = entries.filter((e) => e.kind === "scene" && e.body !== null).sort((a, b) => a.at - b.at)[0];
  return (first?.body as Scene | undefined) ?? sceneOf(FRAME, USUAL_ARRANGEMENT);
}

/** A file of each track; null while they are being read. */
function useAddresses(takeId: string): Addresses | null {
  const [addresses, setAddresses] = useState<Addresses | null>(null);
  useEffect(() => {
    let gone = false;
    let made: Addresses = {};
    const letGo = () => Object.values(made).forEach((address) => URL.revokeObjectURL(address));
    void theOutbox()
      .playable(takeId)
      .then((tracks) => {
        made = Object.fromEntries([...tracks].map(([kind, file]) => [kind, URL.createObjectURL(file)]));
        if (gone) letGo();
        else setAddresses(made);
      });
    return () => {
      gone = true;
      letGo();
    };
  }, [takeId]);
  return addresses;
}

function Played({ addresses, scene }: { addresses: Addresses; scene: Scene }) {
  const box = useRef<HTMLDivElement>(null);
  const [playing, setPlaying] = useState(false);
  const [at, setAt] = useState(0);
  const [length, setLength] = useState(0);
  const layers = useCallback(() => [...(box.current?.querySelectorAll<HTMLMediaElement>("video, audio") ?? [])], []);
  // The sound leads, where there is one: it is last in the frame.
  const lead = useCallback(() => layers().at(-1), [layers]);

  useEffect(() => {
    for (const layer of layers()) {
      if (playing) void layer.play().catch(() => setPlaying(false));
      else layer.pause();
    }
    if (!playing) return;
    const timer = setInterval(() => {
      const first = lead();
      if (!first) return;
      setAt(first.currentTime);
      if (first.ended) return setPlaying(false);
      for (const layer of layers())
        if (!layer.ended && Math.abs(layer.currentTime - first.currentTime) > APART)
          layer.currentTime = first.currentTime;
    }, LOOK_MS);
    return () => clearInterval(timer);
  }, [playing, layers, lead]);
  useEffect(() => {
    const first = lead();
    if (!first) return;
    const tell = () => setLength(Number.isFinite(first.duration) ? first.duration : 0);
    tell();
    first.addEventListener("durationchange", tell);
    return () => first.removeEventListener("durationchange", tell);
  }, [lead]);
  const seek = (to: number) => {
    setAt(to);
    for (const layer of layers()) layer.currentTime = to;
  };
  return (
    <Box sx={{ display: "grid", gap: 1.5 }}>
      <LocalFrame ref={box} addresses={addresses} scene={scene} label="Your recording" />
      <Box sx={{ display: "flex", gap: 2, alignItems: "center" }}>
        <Button variant="contained" onClick={() => setPlaying(!playing)}>
          {playing ? "Pause" : "Play"}
        </Button>
        <Slider
          size="small"
          aria-label="Where it plays"
          value={Math.min(at, length)}
          max={length || 1}
          step={0.1}
          getAriaValueText={(seconds) => formatClock(seconds * SECOND)}
          onChange={(_, to) => seek(to)}
        />
        <Typography className="clock" sx={{ whiteSpace: "nowrap" }}>
          {formatClock(at * SECOND)} of {formatClock(length * SECOND)}
        </Typography>
      </Box>
    </Box>
  );
}
