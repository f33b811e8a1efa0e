import type { Readable } from "node:stream";
import type { SeenBy } from "#core/places/kinds";

/** Where films are sent to, as a way to it needs to know. */
export interface Destination {
  address: URL;
  account: string;
  secret: string;
}

/** What is sent. */
export interface FilmToSend {
  /** of the recording: the same each time */
  id: string;
  /** for a file, with its ending */
  name: string;
  type: string;
  size: number;
  /** its bytes `[from, end)` */
  read(from: number, end: number): Promise<Readable>;
}

/** What is said of it there. */
export interface About {
  title: string;
  description: string;
  seenBy: SeenBy;
}

/** What became of it. */
export interface Standing {
  /** what it is called there, to find it again */
  remote: string;
  /** where it is watched; null where it is not, or not yet */
  link: string | null;
  state: "processing" | "there" | "failed";
  problem?: string;
}

export interface Sending {
  about: About;
  /** what it is called there, where it was sent before: that is replaced */
  remote: string | null;
  /** where an upload that was broken off goes on */
  resume: string | null;
  /** told where it can go on from now on, if it is broken off */
  onResume(resume: string): void;
  /** told how much of it is there. Bytes */
  onProgress(bytes: number): void;
  signal: AbortSignal;
}

/** How films get to a kind of place, and what can be done with them there. All throw {PlaceProblem} */
export interface Way {
  /** Can something be put there, as it is told? */
  check(to: Destination, signal: AbortSignal): Promise<void>;
  send(to: Destination, film: FilmToSend, sending: Sending): Promise<Standing>;
  /** how it stands there now */
  look(to: Destination, remote: string, signal: AbortSignal): Promise<Standing>;
  /** what is said of it there is to be another way */
  update(to: Destination, remote: string, about: About, signal: AbortSignal): Promise<void>;
  /** it is not to be there any more; fine if it is not */
  remove(to: Destination, remote: string, signal: AbortSignal): Promise<void>;
  /** what was begun there, and could have gone on, is not wanted any more; fine if it is not there */
  giveUp(to: Destination, resume: string, signal: AbortSignal): Promise<void>;
}

/** A place does not do what it is to do, for a reason in words for a person. */
export class PlaceProblem extends Error {
  constructor(
    message: string,
    /** it may be another way in a while */
    readonly passes = false,
  ) {
    super(message);
  }
}
