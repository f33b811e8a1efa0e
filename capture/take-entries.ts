import type { Entry, Note } from "#core/layout/entry";
import { endOf, MOST_MARKS, nextNumber, type Mark } from "#core/layout/mark";
import type { Scene } from "#core/layout/scene";
import { Watchable } from "#core/state/watchable";
import { leftOut } from "#core/recipe/edits";
import { gridAfter } from "#core/recipe/frames";
import type { Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";

type NoteEntry = Extract<Entry, { kind: "note" }> & { body: Note };
type MarkEntry = Extract<Entry, { kind: "mark" }> & { body: Mark };

export interface EntriesState {
  /** what was drawn and not taken back, in the order in which it was */
  marks: readonly MarkEntry[];
  /** the take has as many as it can have, those that were taken back among them */
  full: boolean;
  /** what was written down and not taken back, in the order in which it was */
  notes: readonly NoteEntry[];
}

/** What happens in a take, and what the presenter writes and draws in it: small rows that are sent as they come. */
export class TakeEntries extends Watchable<EntriesState> {
  #drawn = 0;

  /**
   * @param now source time; null while no take is under way
   * @param send keeps and sends an entry
   */
  constructor(
    private readonly now: () => Micros | null,
    private readonly send: (entry: Entry) => void,
  ) {
    super({ marks: [], full: false, notes: [] });
  }

  /** Nothing is written or drawn yet. */
  begin(): void {
    this.#drawn = 0;
    this.set({ marks: [], full: false, notes: [] });
  }

  /** What is seen from a moment on. */
  scene(at: Micros, body: Scene): void {
    this.send({ id: crypto.randomUUID(), version: 1, kind: "scene", at, body });
  }

  /** Writes something down of this moment. @returns its id, by which it is taken back; null while nothing runs */
  note(body: Note): string | null {
    const at = this.now();
    if (at === null) return null;
    const entry: NoteEntry = { id: crypto.randomUUID(), version: 1, kind: "note", at, body };
    this.set({ notes: [...this.snapshot().notes, entry] });
    this.send(entry);
    return entry.id;
  }

  /** What of a take is to be shown, by what was backed up over: stretches of its own time, up to now. */
  kept(): Range[] {
    const now = this.now() ?? 0;
    return this.snapshot().notes.reduce<Range[]>(
      (kept, { at, body }) => (body.since === undefined ? kept : leftOut(kept, { from: body.since, to: at })),
      [{ from: 0, to: gridAfter(now) }],
    );
  }

  /** What was written down does not count any more. */
  takeBack(id: string): void {
    const { notes } = this.snapshot();
    const entry = notes.find((n) => n.id === id);
    if (!entry || this.now() === null) return;
    this.set({ notes: notes.filter((n) => n !== entry) });
    this.send({ ...entry, version: entry.version + 1, body: null });
  }

  /** Something was drawn. @param at when its first point was, in source time */
  draw(at: Micros, mark: Mark): void {
    if (this.now() === null || this.snapshot().full) return;
    const body = mark.tool === "number" ? { ...mark, text: nextNumber(this.#seen().map((m) => m.body)) } : mark;
    const entry: MarkEntry = { id: crypto.randomUUID(), version: 1, kind: "mark", at, body };
    this.set({ marks: [...this.snapshot().marks, entry], full: ++this.#drawn >= MOST_MARKS });
    this.send(entry);
  }

  /** The last mark that is still there never was. */
  undo(): void {
    const last = this.#seen().at(-1);
    if (!last) return;
    this.set({ marks: this.snapshot().marks.filter((m) => m !== last) });
    this.send({ ...last, version: last.version + 1, body: null });
  }

  /** From this moment on nothing of what was drawn is seen; what was seen of it before stays. */
  clear(): void {
    const clearedAt = this.now();
    if (clearedAt === null) return;
    const seen = this.#seen();
    const cleared = new Map(
      seen.map((m) => [m.id, { ...m, version: m.version + 1, body: { ...m.body, clearedAt } }] as const),
    );
    this.set({ marks: this.snapshot().marks.map((m) => cleared.get(m.id) ?? m) });
    for (const entry of cleared.values()) this.send(entry);
  }

  /** Those that are there at this moment. */
  #seen(): MarkEntry[] {
    const now = this.now();
    return now === null ? [] : this.snapshot().marks.filter(({ at, body }) => now < endOf(at, body));
  }
}
