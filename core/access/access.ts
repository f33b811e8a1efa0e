/**
 * Who may open the link: only its owner (a draft); people who are named; besides them the people of its folder;
 * everybody of the workspace; or anyone who has it. Each lets in whom the one before it does, and more.
 */
export const AUDIENCES = ["owner", "named", "folder", "workspace", "anyone"] as const;
export type Audience = (typeof AUDIENCES)[number];

/** Whom a recording can be for before anybody is named. */
export const FIRST_AUDIENCES = ["owner", "folder", "workspace", "anyone"] as const satisfies readonly Audience[];
export type FirstAudience = (typeof FIRST_AUDIENCES)[number];

/** What a member is in a workspace. */
export const MEMBER_ROLES = ["owner", "member"] as const;
export type MemberRole = (typeof MEMBER_ROLES)[number];

/** Who of a workspace may share with people from outside. */
export const OUTSIDE = ["everybody", "owners"] as const;
export type Outside = (typeof OUTSIDE)[number];

export interface Membership {
  workspaceId: string;
  role: MemberRole;
}

/** Something that opens a recording, or what lies in a folder, for whoever shows it: a personal link, or a password. */
export interface Pass {
  by: "invite" | "password" | "folder";
  /** what it opens: a recording; for a personal link of a folder, that folder with everything under it */
  to: string;
  /** of which personal link, of which password */
  of: string;
}

/** Who is let in by name: people by their accounts, and which personal links are open. */
export interface Admitted {
  people: ReadonlySet<string>;
  passes: ReadonlySet<string>;
}

/**
 * Who asks: a person who is signed in, with the workspaces they belong to, or a guest (`id` null); and what they show.
 * null is a guest who shows nothing.
 */
export type Subject = { id: string | null; memberships: readonly Membership[]; passes?: readonly Pass[] } | null;

/** Days that a deleted recording can still be brought back. */
export const KEPT_DAYS = 30;
/** The same in ms. */
export const KEPT_MS = KEPT_DAYS * 24 * 3600 * 1000;

/** What has to be known of a recording to decide. Times are in ms since 1970. */
export interface RecordingFacts {
  id: string;
  ownerId: string;
  workspaceId: string;
  audience: Audience;
  /** when it was deleted; null while it is there */
  deletedAt: number | null;
  /** it opens then, to others than its owner; null for at once */
  opensAt: number | null;
  /** it is open until then; null for ever */
  endsAt: number | null;
  /** which password is asked of those whom nobody knows by their account; null for none */
  password: string | null;
  /** may others comment? */
  comments: boolean;
  /** may others have it as a file? */
  downloads: boolean;
  named: Admitted;
  /** the people of its folder and of those above; `colleagues` where everybody of the workspace is among them */
  folder: Admitted & { colleagues: boolean };
}

export type Deed =
  /** see the title, the pictures, the sound, through the link */
  | "watch"
  /** react, nod, answer what is asked */
  | "answer"
  /** write, and reply */
  | "comment"
  /** have it as one file */
  | "download"
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

/**
 * What somebody is to a recording. One may be several; `in-folder` belongs to its folder, a bearer has a personal link
 * to it or to its folder, and `stranger` is everybody.
 */
export type Role = "colleague" | "named" | "in-folder" | "bearer" | "folder-bearer" | "stranger";

/** How somebody is let in: as its owner, known by their account, or because they hold a link. */
export type Standing = "owner" | "known" | "holder";

/** Where a recording stands. One that was deleted longer ago than it is kept is in no state: nobody may do anything. */
export type State = "draft" | "shared" | "shut" | "deleted";

/** Whom each audience lets in, and as what; who is of several roles as the first of them. */
export const LETS_IN: Record<Audience, readonly (readonly [Role, Standing])[]> = {
  owner: [],
  named: [
    ["named", "known"],
    ["bearer", "holder"],
  ],
  folder: [
    ["named", "known"],
    ["in-folder", "known"],
    ["bearer", "holder"],
    ["folder-bearer", "holder"],
  ],
  workspace: [
    ["named", "known"],
    ["in-folder", "known"],
    ["colleague", "known"],
    ["bearer", "holder"],
    ["folder-bearer", "holder"],
  ],
  anyone: [
    ["named", "known"],
    ["in-folder", "known"],
    ["colleague", "known"],
    ["stranger", "holder"],
  ],
};

/**
 * The one table. `draft`, `shared` and `shut` (not open yet, or not any more) are recordings that are not deleted; a
 * recording that is deleted can only be listed (among the deleted) and restored by its owner. `access-sql` says the
 * same in SQL.
 */
export const TABLE: Record<Deed, Record<State, readonly Standing[]>> = {
  watch: { draft: ["owner"], shared: ["owner", "known", "holder"], shut: ["owner"], deleted: [] },
  answer: { draft: ["owner"], shared: ["owner", "known", "holder"], shut: ["owner"], deleted: [] },
  comment: { draft: ["owner"], shared: ["owner", "known", "holder"], shut: ["owner"], deleted: [] },
  download: { draft: ["owner"], shared: ["owner", "known", "holder"], shut: ["owner"], deleted: [] },
  figures: { draft: ["owner"], shared: ["owner"], shut: ["owner"], deleted: [] },
  list: { draft: ["owner"], shared: ["owner", "known"], shut: ["owner"], deleted: ["owner"] },
  change: { draft: ["owner"], shared: ["owner"], shut: ["owner"], deleted: [] },
  restore: { draft: [], shared: [], shut: [], deleted: ["owner"] },
  feed: { draft: ["owner"], shared: ["owner"], shut: ["owner"], deleted: [] },
};

/** What its owner allows others besides, or not. */
const ALLOWED: { [D in Deed]?: (recording: RecordingFacts) => boolean } = {
  comment: ({ comments }) => comments,
  download: ({ downloads }) => downloads,
};

/** May this person do this with this recording, now (ms since 1970)? The only place where that is decided. */
export function may(subject: Subject, deed: Deed, recording: RecordingFacts, now: number): boolean {
  const state = stateOf(recording, now);
  const standing = standingOf(subject, recording);
  if (state === null || standing === null || !TABLE[deed][state].includes(standing)) return false;
  if (standing === "holder" && !showsPassword(subject, recording)) return false;
  return standing === "owner" || (ALLOWED[deed]?.(recording) ?? true);
}

/**
 * What somebody finds behind a link. Only who is let in is told that a password is asked for, or that it is not open
 * yet or any more; for everybody else there is nothing.
 */
export type Door = "open" | "password" | "not-yet" | "over" | "nothing";

/** May what it is about be told to anybody who has the link, also in a preview of it, or on a page of another site? */
export const isPublic = ({ audience, password }: Pick<RecordingFacts, "audience" | "password">): boolean =>
  audience === "anyone" && password === null;

export function doorOf(subject: Subject, recording: RecordingFacts, now: number): Door {
  if (may(subject, "watch", recording, now)) return "open";
  const state = stateOf(recording, now);
  if ((state !== "shared" && state !== "shut") || standingOf(subject, recording) === null) return "nothing";
  if (state === "shared") return "password";
  return recording.opensAt !== null && now < recording.opensAt ? "not-yet" : "over";
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

function stateOf({ audience, deletedAt, opensAt, endsAt }: RecordingFacts, now: number): State | null {
  if (deletedAt !== null) return now - deletedAt < KEPT_MS ? "deleted" : null;
  if (audience === "owner") return "draft";
  return now < (opensAt ?? -Infinity) || now >= (endsAt ?? Infinity) ? "shut" : "shared";
}

function standingOf(subject: Subject, recording: RecordingFacts): Standing | null {
  if (subject?.id && subject.id === recording.ownerId) return "owner";
  return LETS_IN[recording.audience].find(([role]) => IS[role](subject, recording))?.[1] ?? null;
}

const IS: Record<Role, (subject: Subject, recording: RecordingFacts) => boolean> = {
  named: (subject, { named }) => Boolean(subject?.id) && named.people.has(subject!.id!),
  "in-folder": (subject, recording) =>
    (Boolean(subject?.id) && recording.folder.people.has(subject!.id!)) ||
    (recording.folder.colleagues && IS.colleague(subject, recording)),
  colleague: (subject, { workspaceId }) => subject?.memberships.some((m) => m.workspaceId === workspaceId) ?? false,
  bearer: (subject, { id, named }) =>
    shows(subject, ({ by, to, of }) => by === "invite" && to === id && named.passes.has(of)),
  "folder-bearer": (subject, { folder }) => shows(subject, ({ by, of }) => by === "folder" && folder.passes.has(of)),
  stranger: () => true,
};

const shows = (subject: Subject, opens: (pass: Pass) => boolean): boolean => subject?.passes?.some(opens) ?? false;

const showsPassword = (subject: Subject, { id, password }: RecordingFacts): boolean =>
  password === null || shows(subject, ({ by, to, of }) => by === "password" && to === id && of === password);
