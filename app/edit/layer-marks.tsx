import Create from "@mui/icons-material/Create";
import PictureInPicture from "@mui/icons-material/PictureInPicture";
import ZoomIn from "@mui/icons-material/ZoomIn";
import type { ComponentType } from "react";
import type { Dress } from "#core/recipe/dress";
import type { RecordedLine } from "#core/recipe/recorded-line";
import type { Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { Marked } from "../timeline/Timeline";

/**
 * What is arranged, comes nearer, and is drawn, where it is on the line of an edit.
 * @param near what begins no farther apart is one, so that each can be pressed
 */
export function layerMarks(line: RecordedLine, { scenes = {}, zooms = {}, marks = {} }: Dress, near: Micros): Marked[] {
  const named = (stretches: Readonly<Record<string, Range>>, label: string, Sign: ComponentType<{ sx: object }>) =>
    Object.values(stretches).map((stretch) => ({ ...line.of(stretch), label, Sign }));
  const all = [
    ...named(scenes, "Arranged", PictureInPicture),
    ...named(zooms, "Nearer", ZoomIn),
    ...named(marks, "Drawn", Create),
  ].sort((a, b) => a.from - b.from);
  const groups: (typeof all)[] = [];
  for (const one of all) {
    const last = groups.at(-1);
    if (last && one.from - last[0]!.from <= near) last.push(one);
    else groups.push([one]);
  }
  return groups.map((group) => {
    const { from, Sign } = group[0]!;
    return {
      key: `layers ${from}`,
      at: from,
      until: Math.max(...group.map(({ to }) => to)),
      label: [...new Set(group.map(({ label }) => label))].join(", "),
      sign: <Sign sx={SMALL} />,
      color: "primary.main",
    };
  });
}

const SMALL = { fontSize: 16 };
