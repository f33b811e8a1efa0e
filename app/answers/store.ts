import type { Ask, Given } from "#core/answers/kinds";
import { Watchable } from "#core/state/watchable";
import type { Micros } from "#core/time/micros";
import type { Along, CommentPage, SomeComments } from "#server/answers/comment-pages";
import type { ShownComment } from "#server/answers/comments";
import type { ShownReaction } from "#server/answers/reactions";
import type { Said } from "#server/answers/sayings";
import type { Told } from "#server/live/streams";
import { doorAt, guestHeaders, keepGuestKey, oneByOne } from "../embed/doors";
import { LiveSource } from "../live/source";
import { wantsName } from "./identity";

/** Who this browser is at this recording. */
export interface Me {
  id: string;
  name: string | null;
  named: boolean;
  isSender: boolean;
  isMember: boolean;
  /** a name is to be given before something is said */
  needsName: boolean;
  mayComment: boolean;
}

/** What the page was served with. `newest` is the number of the last event that it knows of. */
export interface Served {
  newest: number;
  /** the revision that the page shows, by which it tells moments; null while there is nothing to play */
  revision: number | null;
  /** those that have come: the newest, and what was asked for since */
  comments: ShownComment[];
  /** what was written before this has not come; null where all has */
  before: string | null;
  /** how many threads there are, whether or not they have come */
  threads: number;
  reactions: ShownReaction[];
  ask: Ask;
}

export interface AnswersState extends Served {
  me: Me | null;
  /** others who have the page open; null until the server has said so, and for everybody but the sender */
  watching: number | null;
  /** in an embed, what this browser has answered; the page that is served does not know it there */
  answered: Given | null;
  /** where more was said than has come; null until that was asked for */
  along: Along | null;
  /** false while the connection is lost: what others say comes later */
  live: boolean;
}

export interface StoreDeeds {
  /** too much has changed, or nobody tells: the page's own data has to be read anew */
  reload: () => void;
  /** who came and who answered has changed; told to the sender's pages alone */
  people: () => void;
}

/** A saying was not taken: what to tell the person. */
export class Refused extends Error {
  constructor(
    message: string,
    readonly code = "",
  ) {
    super(message);
  }
}

/** What the server says of a browser that has come. */
interface Visited {
  me: Me;
  /** in an embed: by what to come again, and what was answered before */
  key?: string;
  answer?: Given | null;
}

/** Before the server has said who is there. */
export const UNKNOWN = { me: null, watching: null, answered: null, along: null, live: true } as const;

const AGAIN_MS = 3_000;

/**
 * What is said at one recording: as it was served, kept up to date by server-sent events, and the door by which this
 * browser says something itself.
 * Knows nothing of React.
 */
export class AnswersStore extends Watchable<AnswersState> {
  #source: LiveSource | null = null;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #closed = false;
  #looks = false;
  #as: { invite: string | null; named: boolean } = { invite: null, named: true };
  #ready = Promise.withResolvers<Me>();
  /** a name that is on its way */
  #naming: Promise<unknown> | null = null;

  constructor(
    private readonly token: string,
    served: Served,
    private readonly deeds: StoreDeeds,
    /** is what others say told at once? If not, it is read anew after each word of one's own */
    private readonly listens = true,
  ) {
    super({ ...served, ...UNKNOWN });
  }

  /** Resolves when the server knows this browser. */
  get ready(): Promise<Me> {
    return this.#ready.promise;
  }

  /** Needs no name to be asked for? Where this browser is just being known, or just named, that is waited for. */
  async hasName(): Promise<boolean> {
    await this.ready;
    await this.#naming?.catch(() => undefined);
    return !this.snapshot().me!.needsName;
  }

  /** Shows the page as a stranger has it, for somebody who only looks: nothing is said from here, nobody is told. */
  look(stranger: Pick<Me, "needsName" | "mayComment">): void {
    this.#looks = true;
    this.set({ me: { id: "stranger", name: null, named: true, isSender: false, isMember: false, ...stranger } });
  }

  /** Makes this browser known, then listens. Goes on by itself until it is closed. */
  async open(invite: string | null, named: boolean): Promise<void> {
    if (this.#closed) return;
    this.#as = { invite, named };
    try {
      await this.meet();
      if (!this.#source && this.listens) this.#listen();
    } catch {
      this.set({ live: false });
      this.#timer = setTimeout(() => void this.open(invite, named), AGAIN_MS);
    }
  }

  /** Makes this browser known: at first, and where it has become another guest since, by another page of it. */
  async meet(): Promise<void> {
    const me = await oneByOne(async () => {
      const { me, key, answer } = await post<Visited>(this.token, "visit", this.#as);
      if (key) keepGuestKey(key);
      if (answer) this.set({ answered: answer });
      return me;
    });
    this.#ready.resolve(me);
    this.set({ me });
  }

  close(): void {
    this.#closed = true;
    clearTimeout(this.#timer);
    this.#source?.close();
    this.forgetListeners();
  }

  /** The page's data was read anew. What is older than what is known here is passed over. */
  serve(served: Served): void {
    const { newest, revision, comments, before } = this.snapshot();
    if (served.newest < newest) return;
    // Another revision has other moments: what had come besides is of the one before.
    if (served.revision !== revision || served.before === null) return this.set({ ...served, along: null });
    const ids = new Set(served.comments.map(({ id }) => id));
    const since = served.comments.reduce((first, { createdAt }) => (createdAt < first ? createdAt : first), "~");
    const older = comments.filter(({ id, createdAt }) => !ids.has(id) && createdAt < since);
    this.set({
      ...served,
      comments: merged(served.comments, older),
      before: older.length > 0 ? before : served.before,
    });
  }

  /** Asks for those that were written before. @throws {Refused} */
  async older(): Promise<void> {
    const { before } = this.snapshot();
    if (before === null) return;
    const page = await this.#more<CommentPage>({ before });
    // Asked for twice at once, it comes once.
    if (this.snapshot().before === before) this.#take(page.comments, { before: page.before });
  }

  /** Asks for those around a moment. @throws {Refused} */
  async near(at: Micros): Promise<void> {
    const { revision } = this.snapshot();
    const around = { around: String(Math.round(at)), ...(revision !== null && { revision: String(revision) }) };
    const { comments } = await this.#more<SomeComments>(around);
    if (this.snapshot().revision === revision) this.#take(comments);
  }

  /** Asks for all of a thread. @throws {Refused} */
  async thread(id: string): Promise<void> {
    const { revision } = this.snapshot();
    const { comments } = await this.#more<SomeComments>({ thread: id });
    if (this.snapshot().revision === revision) this.#take(comments);
  }

  /** Asks where more was said than has come. @throws {Refused} */
  async measure(): Promise<void> {
    this.set({ along: await this.#more<Along>({ along: "yes" }) });
  }

  #take(comments: ShownComment[], more: Partial<AnswersState> = {}): void {
    this.set({ comments: merged(this.snapshot().comments, comments), ...more });
  }

  #more<T>(asked: Record<string, string>): Promise<T> {
    return answered<T>(() => fetch(`${doorAt(this.token, "comments")}?${new URLSearchParams(asked).toString()}`));
  }

  /**
   * Says something.
   * @returns the id of what was made
   * @throws {Refused} with a message for the person; nothing was kept then
   */
  async say(said: Said): Promise<string | null> {
    if (this.#looks) throw new Refused("You only look at it as a stranger: nothing is said from here.");
    await this.ready;
    const send = () => post<{ id: string | null }>(this.token, "say", { revision: this.snapshot().revision, ...said });
    const saying = send().catch(async (problem: unknown) => {
      if (!(problem instanceof Refused) || problem.code !== "not-opened") throw problem;
      await this.meet();
      return send();
    });
    if (said.do === "name") this.#naming = saying;
    const { id } = await saying;
    if (said.do === "name") this.set({ me: { ...this.snapshot().me!, name: said.name, needsName: false } });
    if (said.do === "answer") this.set({ answered: { answer: said.answer, version: said.version } });
    // Without a live connection nobody else tells this page.
    if (!this.snapshot().live || !this.listens) this.deeds.reload();
    return id;
  }

  #listen(): void {
    if (this.#closed) return;
    this.#source = new LiveSource(
      () => `/w/${this.token}/events?after=${this.snapshot().newest}`,
      ({ data, lastEventId }) => this.#told(JSON.parse(data) as Told, Number(lastEventId)),
      (live) => live !== this.snapshot().live && this.set({ live }),
    );
  }

  #toldComment(id: string, comment: ShownComment | null): void {
    const { comments, threads } = this.snapshot();
    const known = comments.find((other) => other.id === id);
    const begins = (known ?? comment)?.replyTo === null;
    const more = begins ? Number(comment !== null) - Number(known !== undefined) : 0;
    this.set({ comments: inOrder(comments, id, comment), threads: Math.max(0, threads + more) });
    // A reply in a thread that has not come.
    const root = comment?.replyTo;
    if (root && !comments.some((other) => other.id === root)) void this.thread(root).catch(() => this.deeds.reload());
  }

  #told(told: Told, number: number): void {
    const { reactions, newest } = this.snapshot();
    if (number > newest) this.set({ newest: number });
    if (told.kind === "comment") this.#toldComment(told.id, told.comment);
    else if (told.kind === "reaction") this.set({ reactions: inOrder(reactions, told.id, told.reaction) });
    else if (told.kind === "ask") this.set({ ask: told.ask });
    else if (told.kind === "watching") this.set({ watching: told.count });
    else if (told.kind === "people") this.deeds.people();
    else this.deeds.reload();
  }
}

/** Lists of comments as one, each once, as the second has it; in order of time. */
function merged(known: readonly ShownComment[], come: readonly ShownComment[]): ShownComment[] {
  const all = new Map([...known, ...come].map((comment) => [comment.id, comment]));
  return [...all.values()].sort((a, b) => a.at - b.at || (a.createdAt < b.createdAt ? -1 : 1));
}

/**
 * Says something at a recording whose page is not open. Saying is for those who have opened it, so it is opened first.
 * @throws {Refused}
 */
export async function sayAt(token: string, said: Said): Promise<void> {
  await post(token, "visit", { invite: null, named: wantsName() });
  await post(token, "say", said);
}

const post = <T>(token: string, where: "visit" | "say", body: object): Promise<T> =>
  answered<T>(() =>
    fetch(doorAt(token, where), {
      method: "POST",
      body: JSON.stringify(body),
      headers: { "content-type": "application/json", ...guestHeaders() },
    }),
  );

/** What a door answers. @throws {Refused} with a message for the person */
async function answered<T>(ask: () => Promise<Response>): Promise<T> {
  let answer: Response;
  try {
    answer = await ask();
  } catch {
    throw new Refused(
      "The server cannot be reached. Your words are still here; try again when the connection is back.",
    );
  }
  const said = (await answer.json().catch(() => ({}))) as T & { error?: string; message?: string };
  if (!answer.ok) throw new Refused(said.message ?? "The server did not take this. Try again.", said.error);
  return said;
}

/** A list with one item as it is now, or without it; in order of time, and of writing at the same time. */
export function inOrder<T extends { id: string; at: number; createdAt?: string }>(
  list: readonly T[],
  id: string,
  item: T | null,
): T[] {
  const others = list.filter((other) => other.id !== id);
  if (!item) return others;
  const after = others.findIndex(
    (other) => other.at > item.at || (other.at === item.at && (other.createdAt ?? "") > (item.createdAt ?? "")),
  );
  return after < 0 ? [...others, item] : others.toSpliced(after, 0, item);
}
