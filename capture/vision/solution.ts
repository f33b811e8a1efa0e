/**
 * Loads a program that finds things in pictures (`@mediapipe/…`) in a worker. It was made for a page: it asks for
 * elements, and gets its parts by adding scripts. Here it is given as much of a page as it touches. Only such a worker
 * may run it: its policy, sent with its script, allows what the program does and reaches nothing but this server.
 */

/** What all of these programs are. */
export interface Solution<Results> {
  setOptions(options: object): void;
  onResults(listener: (results: Results) => void): void;
  initialize(): Promise<void>;
  /** resolves when its results were told */
  send(inputs: { image: OffscreenCanvas }): Promise<void>;
}

type SolutionClass<Results> = new (config: { locateFile: (file: string) => string }) => Solution<Results>;

/** A script, run in the worker's own scope. @throws where it cannot be had */
function run(address: string): void {
  const request = new XMLHttpRequest();
  request.open("GET", address, false);
  request.send();
  if (request.status !== 200) throw new Error(`${address} was answered with ${request.status}.`);
  (0, eval)(request.responseText);
}

/** As much of a page as the programs touch. */
function actAsPage(): void {
  const element = () => {
    const heard: Record<string, () => void> = {};
    let address = "";
    return {
      setAttribute: (name: string, value: string) => void (name === "src" && (address = value)),
      addEventListener: (name: string, listener: () => void) => void (heard[name] = listener),
      load: () => {
        run(address);
        heard.load?.();
      },
    };
  };
  const none = () => null;
  Object.assign(self, {
    window: self,
    document: {
      currentScript: null,
      addEventListener: none,
      removeEventListener: none,
      getElementById: none,
      querySelector: none,
      createElement: (name: string) => (name === "canvas" ? new OffscreenCanvas(1, 1) : element()),
      body: { appendChild: (script: ReturnType<typeof element>) => script.load() },
    },
  });
}

/**
 * @param name of its class
 * @param folder where its files are; one worker can load one program only
 * @throws where it cannot be had, or cannot run here
 */
export async function loadSolution<Results>(
  name: "SelfieSegmentation" | "FaceDetection",
  folder: string,
  options: object,
): Promise<Solution<Results>> {
  actAsPage();
  run(`${folder}/${name === "SelfieSegmentation" ? "selfie_segmentation" : "face_detection"}.js`);
  const Class = (self as unknown as Record<string, SolutionClass<Results>>)[name]!;
  const solution = new Class({ locateFile: (file) => `${folder}/${file}` });
  solution.setOptions(options);
  await solution.initialize();
  return solution;
}
