import type { Lens } from "#core/layout/lens";

/** Page → worker. */
export type LensOrder =
  | { type: "open"; frames: ReadableStream<VideoFrame>; out: WritableStream<VideoFrame>; lens: Lens }
  | { type: "tune"; lens: Lens };

/** Worker → page. */
export type LensReport =
  /** the share of one processor that it takes */
  | { type: "cost"; share: number }
  /** whether what is behind the person can be told from them; `no`: all of the picture is blurred */
  | { type: "sees"; person: "yes" | "no" };
