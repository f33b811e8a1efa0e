import { ForeignKeyConstraintError } from "sequelize";
import {
  mayInFolder,
  type ColleaguesRight,
  type FolderDeed,
  type FolderFacts,
  type FolderRight,
} from "#core/access/folders";
import type { Subject } from "#core/access/access";
import type { Database } from "../database/connection";
import { isUuid } from "../http/fields";
import { Problem } from "../http/problem";
import { FOLDER_FACTS } from "./sql";

export interface KnownFolder extends FolderFacts {
  name: string;
  workspaceName: string;
  /** what everybody of the workspace may do by this folder alone, whatever those above say */
  ownColleagues: ColleaguesRight | null;
  /** the folders above that this person may see, the outermost first */
  above: { id: string; name: string }[];
}

interface Row {
  id: string;
  workspaceId: string;
  workspaceName: string;
  above: { id: string; name: string; colleagues: ColleaguesRight | null; colleaguesHere: ColleaguesRight | null }[];
  people: { folderId: string; personId: string | null; may: FolderRight; pass: string }[];
}

/**
 * A folder, if this person may do this with it, in one query.
 * @throws {Problem} 404, the same whether it is hidden or absent
 */
export async function requireFolder(
  db: Database,
  subject: Subject,
  deed: FolderDeed,
  id: string,
): Promise<KnownFolder> {
  const [row] = isUuid(id) ? await db.rows<Row>(FOLDER_FACTS, [id]) : [];
  if (!row) throw noFolder();
  const facts = row.above.map((_, depth) => factsAt(row, depth));
  const folder = facts.at(-1)!;
  if (!mayInFolder(subject, deed, folder)) throw noFolder();
  const { name, colleagues } = row.above.at(-1)!;
  const above = row.above.slice(0, -1).filter((_, depth) => mayInFolder(subject, "see", facts[depth]!));
  return {
    ...folder,
    name,
    workspaceName: row.workspaceName,
    ownColleagues: colleagues,
    above: above.map((one) => ({ id: one.id, name: one.name })),
  };
}

/** What decides at one of the folders of a path: what is said there, and above. */
function factsAt({ workspaceId, above, people }: Row, depth: number): FolderFacts {
  const path = above.slice(0, depth + 1).map(({ id }) => id);
  const theirs = people.filter(({ folderId }) => path.includes(folderId));
  const having = (right: FolderRight) =>
    new Set(theirs.flatMap(({ may, personId }) => (may === right && personId ? [personId] : [])));
  return {
    id: path.at(-1)!,
    workspaceId,
    path,
    colleagues: above[depth]!.colleaguesHere,
    people: { view: having("view"), add: having("add"), manage: having("manage") },
    passes: new Set(theirs.map(({ pass }) => pass)),
  };
}

export const noFolder = () => new Problem(404, "not-found", "There is nothing here that you can open.");

/** What was to be put into a folder that somebody has taken away meanwhile. */
export async function orNoFolder<T>(work: Promise<T>): Promise<T> {
  try {
    return await work;
  } catch (cause) {
    if (cause instanceof ForeignKeyConstraintError) throw noFolder();
    throw cause;
  }
}
