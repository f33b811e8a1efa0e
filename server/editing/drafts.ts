import { parseHistory, shownBy, type History } from "#core/recipe/history";
import { RecipeError } from "#core/recipe/recipe-error";
import type { Shown } from "#core/recipe/edits";
import type { Transaction } from "sequelize";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import { DRAFT, DROP_DRAFT, SAVE_DRAFT } from "./sql";

/** An edit that is worked on. */
export interface Draft {
  /** counts what was saved of it, from 1 */
  version: number;
  /** the revision that it changes */
  seen: number;
  history: History;
}

/** Drafts of edits, one for each recording. Who may have them is checked by the callers. */
export class Drafts {
  constructor(
    private readonly db: Database,
    /** called when what a draft shows is another thing by now */
    private readonly saved: (recordingId: string) => Promise<unknown>,
    /** asks for stretches to be published over the revision that was seen */
    private readonly ask: (recordingId: string, edit: Shown & { seen: number }) => Promise<unknown>,
  ) {}

  of(recordingId: string): Promise<Draft | null> {
    return readDraft(this.db, recordingId);
  }

  /**
   * @param version the one that is replaced, as whoever saves has seen it; 0 where there was none
   * @param by the window that saves: what it saved itself before it replaces, whether or not it has heard of that
   * @param nth which of its saves it is, from 1
   * @returns its version now
   * @throws {Problem} 409 where it was changed meanwhile; 422 for what is no history
   */
  async save(
    recordingId: string,
    { version, seen, history, by = null, nth = 0 }: Omit<Draft, "history"> & { history: unknown } & SavedBy,
  ): Promise<number> {
    let checked: History;
    try {
      checked = parseHistory(history);
    } catch (error) {
      if (error instanceof RecipeError) throw new Problem(422, "no-history", `This is no edit: ${error.message}.`);
      throw error;
    }
    const saved = await writeDraft(this.db, recordingId, { version, seen, history: checked }, { by, nth });
    await this.saved(recordingId);
    return saved;
  }

  /**
   * Asks for what the draft shows to be published, as it was saved.
   * @throws {Problem} 409 where it was changed meanwhile, and as `ask`
   */
  async publish(recordingId: string, { version, seen }: Pick<Draft, "version" | "seen">): Promise<void> {
    const draft = await this.of(recordingId);
    if (draft?.version !== version) throw otherDraft();
    await this.ask(recordingId, { ...shownBy(draft.history), seen });
  }

  /** Throws the draft away. @throws {Problem} 409 where it was changed meanwhile */
  async drop(recordingId: string, version: number): Promise<void> {
    const [row] = await this.db.rows(DROP_DRAFT, [recordingId, version]);
    if (!row && (await this.of(recordingId))) throw otherDraft();
  }
}

interface SavedBy {
  by?: string | null;
  nth?: number;
}

/** The draft of a recording; null where there is none. */
export async function readDraft(db: Database, recordingId: string, transaction?: Transaction): Promise<Draft | null> {
  const [row] = await db.rows<Draft>(DRAFT, [recordingId], transaction);
  return row ? { ...row, history: parseHistory(row.history) } : null;
}

/**
 * Saves a draft over the version that was seen.
 * @param by the window that saves
 * @returns its version now
 * @throws {Problem} 409 where it was changed meanwhile
 */
export async function writeDraft(
  db: Database,
  recordingId: string,
  { version, seen, history }: Draft,
  { by = null, nth = 0, transaction }: SavedBy & { transaction?: Transaction },
): Promise<number> {
  const values = [recordingId, version, seen, JSON.stringify(history), by, nth];
  const [row] = await db.rows<{ version: number }>(SAVE_DRAFT, values, transaction);
  if (!row) throw otherDraft();
  return row.version;
}

export const otherDraft = () =>
  new Problem(409, "other-draft", "This edit was changed in another window meanwhile. Nothing here was saved over it.");
