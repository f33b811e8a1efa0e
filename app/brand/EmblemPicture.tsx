import type { Emblem } from "#server/workspaces/brands";

const HIGH = 32;
const WIDE = 150;

/** A workspace's emblem in a line of a bar, by its name. */
export function EmblemPicture({ emblem: { url, width, height }, name }: { emblem: Emblem; name: string }) {
  const scale = Math.min(HIGH / height, WIDE / width);
  return <img src={url} alt={name} width={Math.round(width * scale)} height={Math.round(height * scale)} />;
}
