import { Upload, type DetailedError, type HttpRequest, type HttpResponse, type HttpStack } from "tus-js-client";
import { askPlace, counted, type Asker } from "./asked";
import { PlaceProblem, type FilmToSend } from "./way";

/** A film that is brought somewhere by tus 1.0, in pieces, so that what breaks off goes on. */
interface ByTus {
  /** where uploads are begun */
  endpoint: URL;
  film: FilmToSend;
  metadata: Record<string, string>;
  /** the address of an upload that was begun before */
  resume: string | null;
  /** bytes of a piece: what is sent at once, and at most lost */
  piece: number;
  by: Asker & { signal: AbortSignal };
  onResume(resume: string): void;
  onProgress(bytes: number): void;
}

/**
 * Brings all of it, by the client that tus's authors have made.
 * @returns the address of the upload
 * @throws {PlaceProblem} with words for why not; the signal's reason where it is aborted
 */
export function bring({ endpoint, film, metadata, resume, piece, by, onResume, onProgress }: ByTus): Promise<string> {
  return new Promise((done, failed) => {
    const end = (settle: () => void) => {
      by.signal.removeEventListener("abort", leave);
      settle();
    };
    const upload = new Upload(UNREAD, {
      endpoint: endpoint.href,
      uploadUrl: resume,
      uploadSize: film.size,
      chunkSize: piece,
      metadata,
      // The job tries again, and knows where it goes on.
      retryDelays: null,
      storeFingerprintForResuming: false,
      fingerprint: () => Promise.resolve(film.id),
      httpStack: asker(endpoint.origin, by),
      fileReader: { openFile: () => Promise.resolve(sourceOf(film)) },
      onUploadUrlAvailable: () => onResume(upload.url!),
      onProgress,
      onChunkComplete: (taken, all, size) => {
        // It would send the same for ever.
        if (taken > 0 && all <= size) return;
        void upload.abort();
        end(() => failed(new PlaceProblem("The server does not count what it is sent.")));
      },
      onSuccess: () => end(() => done(upload.url!)),
      onError: (error) => end(() => failed(by.signal.aborted ? (by.signal.reason as Error) : explained(error))),
    });
    const leave = () => {
      void upload.abort();
      failed(by.signal.reason as Error);
    };
    if (by.signal.aborted) return leave();
    by.signal.addEventListener("abort", leave, { once: true });
    upload.start();
  });
}

/** Says that an upload is not wanted any more. @throws {PlaceProblem} where it stays, though nobody asks for it */
export async function terminate(upload: string, origin: string, by: Asker): Promise<void> {
  try {
    await Upload.terminate(upload, { httpStack: asker(origin, by), retryDelays: null });
  } catch (error) {
    const status = (error as DetailedError).originalResponse?.getStatus() ?? 0;
    // Not there, or whole meanwhile: it is no upload any more.
    if (![400, 403, 404, 410].includes(status)) throw explained(error as Error);
  }
}

/** The client wants something to read; `sourceOf` is what is read. */
const UNREAD = Buffer.alloc(0);

interface Piece {
  size: number;
  from: number;
  film: FilmToSend;
}

const sourceOf = (film: FilmToSend) => ({
  size: film.size,
  slice: (from: number, end: number) =>
    Promise.resolve({ value: { size: end - from, from, film } satisfies Piece, done: end >= film.size }),
  close: () => undefined,
});

/** The client asks by the same door as everybody, and nobody but the place: it is told what opens it. */
const asker = (origin: string, by: Asker): HttpStack => ({
  getName: () => "askPlace",
  createRequest: (method, url) => new Request(method, url, origin, by),
});

class Request implements HttpRequest {
  readonly #headers: Record<string, string> = {};
  readonly #left = new AbortController();
  #onBytes: (bytes: number) => void = () => undefined;

  constructor(
    private readonly method: string,
    private readonly url: string,
    private readonly origin: string,
    private readonly by: Asker,
  ) {}

  getMethod = () => this.method;
  getURL = () => this.url;
  getHeader = (name: string) => this.#headers[name];
  getUnderlyingObject = () => null;
  setHeader(name: string, value: string) {
    this.#headers[name] = value;
  }
  setProgressHandler(handler: (bytes: number) => void) {
    this.#onBytes = handler;
  }
  abort() {
    this.#left.abort();
    return Promise.resolve();
  }

  async send(piece: Piece | null): Promise<HttpResponse> {
    const url = new URL(this.url);
    if (url.origin !== this.origin) throw new PlaceProblem("The server sends us to another one.");
    const signal = AbortSignal.any([this.#left.signal, ...(this.by.signal ? [this.by.signal] : [])]);
    const asking = { method: this.method, headers: this.#headers };
    if (!piece) return answered(await askPlace(url, asking, { ...this.by, signal }));
    const { from, size, film } = piece;
    const stream = counted(await film.read(from, from + size), this.#onBytes);
    try {
      return answered(await askPlace(url, { ...asking, body: { stream, length: size } }, { ...this.by, signal }));
    } finally {
      stream.destroy();
    }
  }
}

const answered = ({ status, headers, text }: Awaited<ReturnType<typeof askPlace>>): HttpResponse => ({
  getStatus: () => status,
  getHeader: (name) => headers[name.toLowerCase()]?.toString(),
  getBody: () => text,
  getUnderlyingObject: () => null,
});

const WHYS: Record<number, string> = {
  401: "The server does not let us, with this key.",
  403: "The server does not let us, with this key.",
  404: "The server takes no films at this address.",
  413: "The file is larger than the server takes.",
  507: "There is no room on the server.",
};

/** What went wrong, in words for a person. */
function explained(error: Error | DetailedError): Error {
  if (!("originalRequest" in error)) return error;
  if (error.causingError instanceof PlaceProblem) return error.causingError;
  const status = error.originalResponse?.getStatus();
  // The request itself is told to nobody: it has what opens the channel.
  if (status === undefined) return error.causingError ?? new Error("The upload ended without an answer.");
  // Locked, or elsewhere than we thought: it is looked up when it is tried again.
  const passes = !(status in WHYS) && (status >= 500 || status === 409 || status === 423);
  return new PlaceProblem(WHYS[status] ?? `The server does not take the file: it answers ${status}.`, passes);
}
