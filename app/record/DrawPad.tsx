import { useSyncExternalStore } from "react";
import type { Recorder } from "#capture/recorder";
import type { Size } from "#core/layout/layout";
import { inTake, marksAt } from "#core/layout/mark";
import { MarkPad } from "../components/MarkPad";
import { useEvery } from "../components/useEvery";
import { usePen } from "./pen";

/** Shows what is drawn in a take over the picture that is recorded, and takes what is drawn now. */
export function DrawPad({ recorder, frame }: { recorder: Recorder; frame: Size }) {
  const { drawing, tool, colour, stays } = usePen();
  const { marks } = useSyncExternalStore(recorder.entries.subscribe, recorder.entries.snapshot);
  // Where nothing is drawn, no time goes by: while recording, whatever the page draws is taken from the encoder.
  useEvery(() => (recorder.entries.snapshot().marks.length > 0 ? recorder.elapsed() : 0));
  const seen = marksAt(
    marks.map(({ id, at, body }) => inTake(id, at, body)),
    recorder.elapsed(),
  );
  return (
    <MarkPad
      frame={frame}
      seen={seen}
      drawing={drawing}
      tool={tool}
      colour={colour}
      staysMs={stays === "cleared" ? null : 1000 * Number(stays)}
      now={() => recorder.elapsed()}
      onDraw={(at, mark) => recorder.entries.draw(at, mark)}
    />
  );
}
