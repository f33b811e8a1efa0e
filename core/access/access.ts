/** Who may open the link: only its owner (a draft), or anyone who has it. */
export const AUDIENCES = ["owner", "anyone"] as const;
export type Audience = (typeof AUDIENCES)[number];

/** A member who is signed in, or null for a guest. */
export type Person = { id: string; workspaceId: string } | null;

/** What has to be known of a recording to decide. */
export interface RecordingFacts {
  ownerId: string;
  workspaceId: string;
  audience: Audience;
  deleted: boolean;
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

type Role = "owner" | "colleague" | "stranger";

/**
 * The one table. `draft` and `shared` are recordings that are not deleted; a recording that is deleted can only be
 * listed (among the deleted) and restored by its owner.
 */
const TABLE: Record<Deed, Record<"draft" | "shared" | "deleted", readonly Role[]>> = {
  watch: { draft: ["owner"], shared: ["owner", "colleague", "stranger"], deleted: [] },
  answer: { draft: ["owner"], shared: ["owner", "colleague", "stranger"], deleted: [] },
  figures: { draft: ["owner"], shared: ["owner"], deleted: [] },
  list: { draft: ["owner"], shared: ["owner", "colleague"], deleted: ["owner"] },
  change: { draft: ["owner"], shared: ["owner"], deleted: [] },
  restore: { draft: [], shared: [], deleted: ["owner"] },
  feed: { draft: ["owner"], shared: ["owner"], deleted: [] },
};

/** May this person do this with this recording? The only place where that is decided. */
export function may(person: Person, deed: Deed, recording: RecordingFacts): boolean {
  const state = recording.deleted ? "deleted" : recording.audience === "anyone" ? "shared" : "draft";
  return TABLE[deed][state].includes(roleOf(person, recording));
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

function roleOf(person: Person, recording: RecordingFacts): Role {
  if (person?.id === recording.ownerId) return "owner";
  return person?.workspaceId === recording.workspaceId ? "colleague" : "stranger";
}
