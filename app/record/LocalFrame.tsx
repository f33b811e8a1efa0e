import Box from "@mui/material/Box";
import type { ReactNode, Ref } from "react";
import { layerOf, type Scene } from "#core/layout/scene";
import type { TrackKind } from "#core/media/tracks";
import { InsetArch } from "../components/InsetArch";
import { layerStyle } from "../components/place";

interface Props {
  /** what each track is played from */
  addresses: Partial<Record<TrackKind, string>>;
  scene: Scene;
  /** what the pictures are called */
  label: string;
  muted?: boolean;
  loop?: boolean;
  ref: Ref<HTMLDivElement>;
  children?: ReactNode;
}

/** A take that is on this computer, each of its tracks played from a file of its own. Who uses it starts them. */
export function LocalFrame({ addresses, scene, label, muted = false, loop = false, ref, children }: Props) {
  const lead = addresses.screen ?? addresses.camera;
  return (
    <Box
      ref={ref}
      sx={{ position: "relative", aspectRatio: "16 / 9", bgcolor: "bar.main", border: "1px solid", overflow: "hidden" }}
    >
      {lead && (
        <Box sx={{ position: "absolute" }} style={layerStyle(layerOf(scene, "screen"), 0)}>
          <Picture address={lead} label={label} loop={loop} fit={addresses.screen ? "contain" : "cover"} />
        </Box>
      )}
      {addresses.screen && addresses.camera && (
        <InsetArch layer={layerOf(scene, "camera") ?? null}>
          <Picture address={addresses.camera} label="Your picture" loop={loop} fit="cover" />
        </InsetArch>
      )}
      {addresses.microphone && <Sound address={addresses.microphone} muted={muted} loop={loop} />}
      {addresses.sound && <Sound address={addresses.sound} muted={muted} loop={loop} />}
      {children}
    </Box>
  );
}

interface PictureProps {
  address: string;
  label: string;
  loop: boolean;
  fit: "contain" | "cover";
}

const Picture = ({ address, label, loop, fit }: PictureProps) => (
  <video
    src={address}
    aria-label={label}
    muted
    loop={loop}
    playsInline
    style={{ width: "100%", height: "100%", objectFit: fit, display: "block" }}
  />
);

interface SoundProps {
  address: string;
  muted: boolean;
  loop: boolean;
  ref?: Ref<HTMLAudioElement>;
}

export const Sound = ({ address, muted, loop, ref }: SoundProps) => (
  <audio ref={ref} src={address} muted={muted} loop={loop} />
);
