/** Who may open the link: only its owner (a draft), or anyone who has it. */
export const AUDIENCES = ["owner", "anyone"] as const;
export type Audience = (typeof AUDIENCES)[number];

/** What a member is in a workspace. */
export const MEMBER_ROLES = ["owner", "member"] as const;
export type MemberRole = (typeof MEMBER_ROLES)[number];

export interface Membership {
  workspaceId: string;
  role: MemberRole;
}

/** Who asks: a person who is signed in, with the workspaces they belong to, or null for a guest. */
export type Subject = { id: string; memberships: readonly Membership[] } | null;

/** Days that a deleted recording can still be brought back. */
export const KEPT_DAYS = 30;
/** The same in ms. */
export const KEPT_MS = KEPT_DAYS * 24 * 3600 * 1000;

/** What has to be known of a recording to decide. */
export interface RecordingFacts {
  ownerId: string;
  workspaceId: string;
  audience: Audience;
  /** when it was deleted, in ms since 1970; null while it is there */
  deletedAt: number | null;
}

export type Deed =
  /** see the title, the pictures, the sound, through the link */
  | "watch"
  /** comment, react, nod */
  | "answer"
  /** see who opened, watched and answered; ask and invite */
  | "figures"
  /** see it listed in the library */
  | "list"
  /** give a title, choose the audience, delete */
  | "change"
  /** bring back what was deleted */
  | "restore"
  /** send segments, layout and the end of a take */
  | "feed";

/** What somebody is to a recording. */
export type Role = "owner" | "colleague" | "stranger";
/** Where a recording stands. One that was deleted longer ago than it is kept is in no state: nobody may do anything. */
export type State = "draft" | "shared" | "deleted";

/**
 * The one table. `draft` and `shared` are recordings that are not deleted; a recording that is deleted can only be
 * listed (among the deleted) and restored by its owner. `access-sql` says the same in SQL.
 */
export const TABLE: Record<Deed, Record<State, readonly Role[]>> = {
  watch: { draft: ["owner"], shared: ["owner", "colleague", "stranger"], deleted: [] },
  answer: { draft: ["owner"], shared: ["owner", "colleague", "stranger"], deleted: [] },
  figures: { draft: ["owner"], shared: ["owner"], deleted: [] },
  list: { draft: ["owner"], shared: ["owner", "colleague"], deleted: ["owner"] },
  change: { draft: ["owner"], shared: ["owner"], deleted: [] },
  restore: { draft: [], shared: [], deleted: ["owner"] },
  feed: { draft: ["owner"], shared: ["owner"], deleted: [] },
};

/** May this person do this with this recording, now (ms since 1970)? The only place where that is decided. */
export function may(subject: Subject, deed: Deed, recording: RecordingFacts, now: number): boolean {
  const state = stateOf(recording, now);
  return state !== null && TABLE[deed][state].includes(roleOf(subject, recording));
}

/** What can be done with a workspace itself. */
export type WorkspaceDeed =
  /** make recordings in it, see who belongs to it */
  | "use"
  /** let people in, change what they are, remove them */
  | "manage";

const WORKSPACE_TABLE: Record<WorkspaceDeed, readonly MemberRole[]> = {
  use: ["owner", "member"],
  manage: ["owner"],
};

/** May this person do this with this workspace? */
export function mayInWorkspace(subject: Subject, deed: WorkspaceDeed, workspaceId: string): boolean {
  const membership = subject?.memberships.find((m) => m.workspaceId === workspaceId);
  return membership !== undefined && WORKSPACE_TABLE[deed].includes(membership.role);
}

/** What has to be known of a comment to decide. */
export interface CommentFacts {
  /** the viewer who wrote it */
  authorId: string;
}

/**
 * May this viewer do this with this comment? Its author changes and removes it; its author and the sender settle it.
 */
export function mayOnComment(
  viewer: { id: string; isSender: boolean },
  deed: "edit" | "remove" | "settle",
  comment: CommentFacts,
): boolean {
  return viewer.id === comment.authorId || (deed === "settle" && viewer.isSender);
}

function stateOf({ audience, deletedAt }: RecordingFacts, now: number): State | null {
  if (deletedAt === null) return audience === "owner" ? "draft" : "shared";
  return now - deletedAt < KEPT_MS ? "deleted" : null;
}

function roleOf(subject: Subject, recording: RecordingFacts): Role {
  if (subject?.id === recording.ownerId) return "owner";
  return subject?.memberships.some((m) => m.workspaceId === recording.workspaceId) ? "colleague" : "stranger";
}
