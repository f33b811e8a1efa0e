import type { Alpha } from "#core/picture/planes";
import { SmallPicture } from "../small-picture";
import { loadSolution, type Solution } from "../vision/solution";

interface Segmented {
  segmentationMask: ImageBitmap;
  /** what was looked at; given back at once: it is large, and there are ten a second */
  image: ImageBitmap;
}

/** The size that the model looks at; larger gives nothing. */
const LOOKED_AT = { width: 256, height: 144 };
/** A mask is made anew when so many times as long has passed as it took: the most of a processor that goes there. */
const REST = 3;

/** Where in a picture the person is, by a model that looks at a small one. */
export class PersonMask {
  #canvas = new OffscreenCanvas(LOOKED_AT.width, LOOKED_AT.height);
  #context = this.#canvas.getContext("2d", { alpha: false, willReadFrequently: true })!;
  #read = new OffscreenCanvas(LOOKED_AT.width, LOOKED_AT.height).getContext("2d", { willReadFrequently: true })!;
  #small = new SmallPicture();
  #mask: Alpha | null = null;
  #next = 0;

  private constructor(private readonly solution: Solution<Segmented>) {
    solution.onResults(({ segmentationMask, image }) => {
      image.close();
      this.#mask = this.#alphaOf(segmentationMask);
      segmentationMask.close();
    });
  }

  /** @param folder where the model is. @throws where it cannot run here */
  static async load(folder: string): Promise<PersonMask> {
    // On the processor: a graphics card that is only made believe takes eight times as long.
    const options = { modelSelection: 1, useCpuInference: true };
    return new PersonMask(await loadSolution<Segmented>("SelfieSegmentation", folder, options));
  }

  /** The newest mask, for pictures that come one after another. */
  async of(picture: VideoFrame): Promise<Alpha> {
    const begun = performance.now();
    if (this.#mask && begun < this.#next) return this.#mask;
    this.#context.putImageData(await this.#small.of(picture, LOOKED_AT.width, LOOKED_AT.height), 0, 0);
    await this.solution.send({ image: this.#canvas });
    const done = performance.now();
    this.#next = done + REST * (done - begun) - 1;
    return this.#mask!;
  }

  /** The mask is the alpha of a picture. */
  #alphaOf(mask: ImageBitmap): Alpha {
    const { width, height } = LOOKED_AT;
    this.#read.globalCompositeOperation = "copy";
    this.#read.drawImage(mask, 0, 0, width, height);
    return { data: this.#read.getImageData(0, 0, width, height).data, width, height, step: 4, first: 3 };
  }
}
