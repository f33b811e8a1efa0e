import { cropOf } from "#core/layout/area";
import { isClear, lensArea, type Lens } from "#core/layout/lens";
import type { Alpha } from "#core/picture/planes";
import { LensPixels } from "./lens-pixels";
import type { LensOrder, LensReport } from "./messages";
import { PersonMask } from "./person-mask";

const FOLDER = "/vision/selfie_segmentation";
const TELL_MS = 1_000;

const tell = (report: LensReport) => postMessage(report);

const pixels = new LensPixels();
let lens: Lens;
let mask: PersonMask | null = null;
let loading = false;
/** of the time since `since`, in ms */
let busy = 0;
let since = performance.now();

onmessage = ({ data }: MessageEvent<LensOrder>) => {
  lens = data.lens;
  if (lens.blurs && !loading) void load();
  if (data.type === "open") void follow(data.frames, data.out);
};

async function load(): Promise<void> {
  loading = true;
  try {
    mask = await PersonMask.load(FOLDER);
    tell({ type: "sees", person: "yes" });
  } catch {
    // Tried again when it is wanted again.
    loading = false;
    tell({ type: "sees", person: "no" });
  }
}

async function follow(frames: ReadableStream<VideoFrame>, out: WritableStream<VideoFrame>): Promise<void> {
  const reader = frames.getReader();
  const writer = out.getWriter();
  try {
    for (;;) {
      const { value, done } = await reader.read();
      if (done) break;
      const begun = performance.now();
      const seen = await through(value);
      busy += performance.now() - begun;
      if (seen !== value) value.close();
      await writer.write(seen);
      tellCost();
    }
    await writer.close();
  } catch {
    // Nobody looks any more.
    await reader.cancel().catch(() => undefined);
  }
  close();
}

/** @returns the frame itself where nothing is made of it */
async function through(frame: VideoFrame): Promise<VideoFrame> {
  const { blurs, flips } = lens;
  if (isClear(lens)) return frame;
  const seen = { width: frame.displayWidth, height: frame.displayHeight };
  const crop = cropOf(seen, lensArea(lens));
  if (blurs || flips) return pixels.through(frame, crop, flips, blurs ? await personIn(frame) : undefined);
  const { x, y } = frame.visibleRect ?? { x: 0, y: 0 };
  return new VideoFrame(frame, { visibleRect: { ...crop, x: x + crop.x, y: y + crop.y } });
}

/** What is behind somebody is never seen by mistake: where they cannot be told from it, all of it is blurred. */
async function personIn(frame: VideoFrame): Promise<Alpha | null> {
  if (!mask) return null;
  try {
    return await mask.of(frame);
  } catch {
    mask = null;
    tell({ type: "sees", person: "no" });
    return null;
  }
}

function tellCost(): void {
  const now = performance.now();
  if (now - since < TELL_MS) return;
  tell({ type: "cost", share: busy / (now - since) });
  busy = 0;
  since = now;
}
