import type { Admitted, Subject } from "./access";

/** What somebody of a folder may do there, each with what the one before it may. It holds for everything under it. */
export const FOLDER_RIGHTS = ["view", "add", "manage"] as const;
export type FolderRight = (typeof FOLDER_RIGHTS)[number];

/** What everybody of the workspace may do in a folder. */
export const COLLEAGUES_RIGHTS = ["view", "add"] as const satisfies readonly FolderRight[];
export type ColleaguesRight = (typeof COLLEAGUES_RIGHTS)[number];

/** What has to be known of a folder to decide: its own people, and those of the folders above. */
export interface FolderFacts {
  id: string;
  workspaceId: string;
  /** the folders above, the outermost first, and itself */
  path: readonly string[];
  /** what everybody of the workspace may do; null for nothing */
  colleagues: ColleaguesRight | null;
  /** by what they may do */
  people: Record<FolderRight, ReadonlySet<string>>;
  /** which personal links are open; whoever has one may look */
  passes: Admitted["passes"];
}

export type FolderDeed =
  /** see its name, the folders in it, and of its recordings those that one may watch */
  | "see"
  /** put recordings of one's own there, make folders in it */
  | "add"
  /** give it a name, move it, take it away, say who belongs to it */
  | "manage";

/** Least right for a deed. `view` is enough for the first only. */
const NEEDS: Record<FolderDeed, FolderRight> = { see: "view", add: "add", manage: "manage" };

/**
 * May this person do this with this folder? Only who belongs to the workspace adds and manages; its owners manage every
 * folder, so that none is without somebody who does.
 */
export function mayInFolder(subject: Subject, deed: FolderDeed, folder: FolderFacts): boolean {
  const right = rightIn(subject, folder);
  return right !== null && FOLDER_RIGHTS.indexOf(right) >= FOLDER_RIGHTS.indexOf(NEEDS[deed]);
}

/** The most that this person may do there; null for nothing. */
export function rightIn(subject: Subject, folder: FolderFacts): FolderRight | null {
  const membership = subject?.memberships.find((m) => m.workspaceId === folder.workspaceId);
  if (membership?.role === "owner") return "manage";
  const named = subject?.id ? FOLDER_RIGHTS.findLast((right) => folder.people[right].has(subject.id!)) : undefined;
  if (!membership) return named || bears(subject, folder) ? "view" : null;
  const rights = [named, folder.colleagues, bears(subject, folder) ? ("view" as const) : null];
  return FOLDER_RIGHTS.findLast((right) => rights.includes(right)) ?? null;
}

const bears = (subject: Subject, { passes }: FolderFacts) =>
  subject?.passes?.some(({ by, of }) => by === "folder" && passes.has(of)) ?? false;
