import type { FaceFigures } from "#core/check/face";
import type { Rect } from "#core/layout/layout";

/** Page → worker. */
export interface FaceWish {
  picture: ImageBitmap;
  /** of the picture, in shares of it; faces are looked for in each, where they are small in the whole */
  parts: readonly Rect[];
}

/** Worker → page. Null where no face can be looked for. */
export type FaceReport = (FaceFigures & { faces: readonly Rect[] }) | null;

const WHOLE: readonly Rect[] = [{ x: 0, y: 0, width: 1, height: 1 }];

/** Finds faces in pictures, one after the other, in a worker. What it needs is large: it is loaded with the first. */
export class FaceFinder {
  #worker = new Worker(new URL("./face.worker.ts", import.meta.url), { type: "module" });
  #done: ((report: FaceReport) => void) | null = null;
  #broken = false;

  constructor() {
    this.#worker.onmessage = ({ data }: MessageEvent<FaceReport>) => this.#tell(data);
    this.#worker.onerror = () => {
      this.#broken = true;
      this.#tell(null);
    };
  }

  get busy(): boolean {
    return this.#done !== null;
  }

  /** @param picture is taken. @returns null where no face can be looked for here, or nobody waits any more */
  look(picture: ImageBitmap, parts: readonly Rect[] = WHOLE): Promise<FaceReport> {
    if (this.busy) throw new Error("A picture is being looked at: wait for it.");
    if (this.#broken) return Promise.resolve(null);
    const wish: FaceWish = { picture, parts };
    this.#worker.postMessage(wish, [picture]);
    return new Promise((done) => (this.#done = done));
  }

  close(): void {
    this.#broken = true;
    this.#worker.terminate();
    this.#tell(null);
  }

  #tell(report: FaceReport): void {
    this.#done?.(report);
    this.#done = null;
  }
}
