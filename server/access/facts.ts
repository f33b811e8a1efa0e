import { LRUCache } from "lru-cache";
import { doorOf, may, type Deed, type Door, type RecordingFacts, type Subject } from "#core/access/access";
import type { Database } from "../database/connection";
import { isUuid } from "../http/fields";
import { Problem } from "../http/problem";
import type { Channel } from "../live/channel";
import { factsBy, REPLACED, type FactsBy } from "./sql";

export interface KnownRecording extends RecordingFacts {
  token: string;
  /** guests are asked for a name before they say something */
  asksNames: boolean;
}

/** What somebody finds behind a link, and the recording where they are let in, or would be. */
export type Found =
  { door: "nothing" | "replaced"; recording: null } | { door: Exclude<Door, "nothing">; recording: KnownRecording };

/** A change is told to all processes at once; this is the longest it could be missed if that ever failed. */
const REMEMBER_MS = 10_000;

/**
 * What `core/access` has to know of a recording, remembered for a moment: a viewer asks for a segment every two
 * seconds.
 */
export class AccessFacts {
  #byToken = new LRUCache<string, { facts: KnownRecording | null }>({ max: 20_000, ttl: REMEMBER_MS });
  #tokenOfTake = new LRUCache<string, string>({ max: 20_000 });
  /** Counts what was forgotten, so that an answer on its way does not come in after the news that made it old. */
  #generation = 0;

  constructor(
    private readonly db: Database,
    private readonly channel: Channel,
  ) {
    channel.on("notice", ({ topic, id }) => {
      if (topic === "recording") this.#forget(id);
      // Whoever left a workspace may have left recordings to somebody else.
      // What a folder says holds for everything under it.
      if (topic === "person" || topic === "folder") this.#forgetAll();
    });
    channel.on("resumed", () => this.#forgetAll());
  }

  /**
   * The recording behind a link, if this person may do this with it.
   * @throws {Problem} 404 — the same whether it is hidden or absent
   */
  async require(subject: Subject, deed: Deed, token: string): Promise<KnownRecording> {
    const facts = await this.byToken(token);
    if (!facts || !may(subject, deed, facts, Date.now())) throw notThere();
    return facts;
  }

  /** What this person finds behind a link. */
  async find(subject: Subject, token: string): Promise<Found> {
    const recording = await this.byToken(token);
    const door = recording ? doorOf(subject, recording, Date.now()) : "nothing";
    if (recording && door !== "nothing") return { door, recording };
    // Looked for in any case: that there is a recording for somebody else must not be told by the time of the answer.
    const replaced = isToken(token) && (await this.db.rows(REPLACED, [token])).length > 0;
    return { door: replaced ? "replaced" : "nothing", recording: null };
  }

  /** The recording that somebody may do this with, by its id. @throws {Problem} 404 */
  async requireById(subject: Subject, deed: Deed, id: string): Promise<KnownRecording> {
    const facts = isUuid(id) ? await this.byId(id) : null;
    if (!facts || !may(subject, deed, facts, Date.now())) throw notThere();
    return facts;
  }

  async byToken(token: string): Promise<KnownRecording | null> {
    if (!isToken(token)) return null;
    return this.#load(token, "token", token);
  }

  async byTake(takeId: string): Promise<KnownRecording | null> {
    const token = this.#tokenOfTake.get(takeId);
    // A link that was given up for a new one leads nowhere; the take is still there.
    const known = token ? await this.byToken(token) : null;
    if (known) return known;
    const facts = await this.#load(null, "take", takeId);
    if (facts) this.#tokenOfTake.set(takeId, facts.token);
    return facts;
  }

  async byId(id: string): Promise<KnownRecording | null> {
    return this.#load(null, "id", id);
  }

  /** To be called after every change that access depends on. */
  async changed(id: string): Promise<void> {
    this.#forget(id);
    await this.channel.tell({ topic: "recording", id });
  }

  async #load(key: string | null, by: FactsBy, value: string): Promise<KnownRecording | null> {
    const cached = key ? this.#byToken.get(key) : undefined;
    if (cached) return cached.facts;
    const generation = this.#generation;
    const [row] = await this.db.rows<Row>(factsBy(by), [value]);
    const facts = row && {
      ...row,
      named: setsOf(row.named),
      folder: { ...setsOf(row.folder), colleagues: row.folder.colleagues },
    };
    if (generation === this.#generation && (facts || key))
      this.#byToken.set(facts?.token ?? key!, { facts: facts ?? null });
    return facts ?? null;
  }

  #forget(id: string): void {
    this.#generation++;
    for (const [token, { facts }] of this.#byToken.entries())
      if (facts?.id === id || facts === null) this.#byToken.delete(token);
  }

  #forgetAll(): void {
    this.#generation++;
    this.#byToken.clear();
  }
}

interface Lists {
  people: string[];
  passes: string[];
}
type Row = Omit<KnownRecording, "named" | "folder"> & { named: Lists; folder: Lists & { colleagues: boolean } };

/** Somebody is looked for among hundreds with each segment. */
const setsOf = ({ people, passes }: Lists) => ({ people: new Set(people), passes: new Set(passes) });

const isToken = (text: string) => /^[\w-]{16,64}$/.test(text);

const notThere = () => new Problem(404, "not-found", "There is nothing here that you can open.");
