import { marksAt, nextNumber, type Mark } from "#core/layout/mark";
import type { Playable } from "#server/playback/playback";
import type { Picture } from "#server/editing/pictures";
import type { Size } from "#core/layout/layout";
import { MarkPad } from "../components/MarkPad";
import type { Player } from "../player/player";
import { usePlayerValue } from "../player/usePlayer";
import { usePen } from "../record/pen";

interface Props {
  player: Player | null;
  playable: Playable;
  /** what is put on, instead of what is drawn */
  putting: Picture | null;
  onDraw: (mark: Mark) => void;
}

/** Takes what is drawn on the picture while editing. The next number is one more than those that are seen. */
export function DrawOver({ player, playable, putting, onDraw }: Props) {
  const { tool, colour } = usePen();
  const time = usePlayerValue(player, (state) => state.time);
  const frame = playable.frame!;
  const seen = marksAt(playable.marks, time);
  return (
    <MarkPad
      frame={frame}
      seen={[]}
      drawing
      // Its place is a box until it is there.
      tool={putting ? "box" : tool}
      colour={colour}
      staysMs={null}
      now={() => time}
      onDraw={(_, mark) => {
        if (putting) onDraw(pictureMark(mark, putting, frame));
        else onDraw(mark.tool === "number" ? { ...mark, text: nextNumber(seen.map((s) => s.mark)) } : mark);
      }}
    />
  );
}

/** A picture as wide as the box that was drawn for it, and of its own shape. */
function pictureMark(box: Mark, { id, width, height }: Picture, frame: Size): Mark {
  const [ax = 0, ay = 0] = box.path;
  const [bx = 0, by = 0] = box.path.slice(-3);
  const [x, y] = [Math.min(ax, bx), Math.min(ay, by)];
  const wide = Math.max(0.02, Math.abs(bx - ax));
  const high = (((wide * frame.width) / frame.height) * height) / width;
  const within = (share: number) => Math.max(0, Math.min(1, share));
  return { ...box, tool: "picture", text: id, path: [x, y, 0, within(x + wide), within(y + high), 0] };
}
