import Joi from "joi";
import type { Answered } from "../http/outward";
import { askPlace, expectDone, isGone, within, type Asker } from "./asked";
import { bring, terminate } from "./tus";
import {
  PlaceProblem,
  type About,
  type Destination,
  type FilmToSend,
  type Sending,
  type Standing,
  type Way,
} from "./way";

/** Bytes that are sent at once: what a broken connection costs at most. */
const PIECE = 8 * 1024 * 1024;

const NO_LEAVE = "it does not let us, with this key";
const WHYS = { 401: NO_LEAVE, 403: NO_LEAVE, 404: "there is no channel at this address" };

/** What a channel says of a video. */
interface Told {
  id: string;
  state: "working" | "ready" | "failed";
  link: string | null;
  problem: string | null;
}

const idField = Joi.string().pattern(/^[\w-]{1,200}$/);
const told = Joi.object<Told>({
  id: idField.required(),
  state: Joi.string().valid("working", "ready", "failed").required(),
  // It is shown as a link.
  link: Joi.string()
    .uri({ scheme: ["http", "https"] })
    .max(2_000)
    .allow(null)
    .default(null),
  problem: Joi.string().max(300).allow(null, "").default(null),
}).options({ stripUnknown: true });

const STATES = { working: "processing", ready: "there", failed: "failed" } as const;

/**
 * A channel, which shows films to people, in a form that its server makes of them. `docs/architecture.md` says what it
 * is asked: uploads by tus 1.0 at `files`, and of each `videos/<id>`, as JSON.
 */
export class FilmChannel implements Way {
  constructor(
    /** may an address like this be asked? */
    private readonly allows: (address: string) => boolean,
    private readonly piece = PIECE,
  ) {}

  async check(to: Destination, signal: AbortSignal): Promise<void> {
    expectDone(await this.#ask(to, "videos", { method: "GET" }, signal), "answer as a channel", WHYS);
  }

  async send(to: Destination, film: FilmToSend, sending: Sending): Promise<Standing> {
    const { about, remote, resume, onResume, onProgress, signal } = sending;
    // What is not there any more cannot be replaced.
    const replaced = remote !== null && (await this.#told(to, remote, signal)) ? remote : null;
    const upload = await bring({
      endpoint: within(to.address, "files"),
      film,
      // What is long is told afterwards: this goes in a header.
      metadata: {
        filename: film.name,
        filetype: film.type,
        title: about.title,
        seenBy: about.seenBy,
        ...(replaced !== null && { replaces: replaced }),
      },
      ...{ resume, onResume, onProgress, piece: this.piece, by: { ...this.#asker(to, signal), signal } },
    });
    const video = await this.#told(to, idOf(upload), signal);
    if (!video) throw new PlaceProblem("The server has taken the file, and does not know it.");
    // It may be called otherwise since it was begun.
    await this.update(to, video.id, about, signal);
    return standingOf(video);
  }

  async look(to: Destination, remote: string, signal: AbortSignal): Promise<Standing> {
    const video = await this.#told(to, remote, signal);
    return video ? standingOf(video) : { remote, link: null, state: "failed", problem: "It is not there any more." };
  }

  async update(to: Destination, remote: string, about: About, signal: AbortSignal): Promise<void> {
    const answer = await this.#ask(
      to,
      `videos/${remote}`,
      { method: "PATCH", headers: { "content-type": "application/json" }, body: JSON.stringify(about) },
      signal,
    );
    expectDone(answer, "change what is said of it", { ...WHYS, 404: "it is not there any more" });
  }

  async remove(to: Destination, remote: string, signal: AbortSignal): Promise<void> {
    const answer = await this.#ask(to, `videos/${remote}`, { method: "DELETE" }, signal);
    if (!isGone(answer)) expectDone(answer, "take it away", WHYS);
  }

  async giveUp(to: Destination, resume: string, signal: AbortSignal): Promise<void> {
    // All of it may have come, before anybody here was told.
    const video = await this.#told(to, idOf(resume), signal);
    if (video?.id === idOf(resume)) return this.remove(to, video.id, signal);
    if (!video) await terminate(resume, to.address.origin, this.#asker(to, signal));
  }

  /** @returns null where there is no such video, by its own name or that of its upload */
  async #told(to: Destination, id: string, signal: AbortSignal): Promise<Told | null> {
    const answer = await this.#ask(to, `videos/${id}`, { method: "GET" }, signal);
    if (isGone(answer)) return null;
    expectDone(answer, "tell how it stands", WHYS);
    const { value, error } = told.validate(parsed(answer.text));
    if (error) throw new PlaceProblem("The server does not answer as a channel does.");
    return value;
  }

  #ask(to: Destination, path: string, asking: Parameters<typeof askPlace>[1], signal: AbortSignal): Promise<Answered> {
    return askPlace(within(to.address, path), asking, this.#asker(to, signal));
  }

  #asker({ secret }: Destination, signal: AbortSignal): Asker {
    return { authorization: `Bearer ${secret}`, allows: this.allows, signal };
  }
}

const standingOf = ({ id, state, link, problem }: Told): Standing => ({
  ...{ remote: id, link, state: STATES[state] },
  ...(state === "failed" && { problem: problem || "The server could not use it." }),
});

/** What an upload is called, from its address. @throws {PlaceProblem} where that cannot be the name of one */
function idOf(upload: string): string {
  const { value, error } = idField.validate(new URL(upload).pathname.split("/").pop());
  if (error) throw new PlaceProblem("The server does not answer as a channel does.");
  return value as string;
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
