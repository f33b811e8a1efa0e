/**
 * What is mailed: a recording that somebody sends or reminds of, a link to a folder or into a workspace, what is new; a
 * code, a link by which an account starts, one to a new password, one that proves an address, and the news that
 * something of an account has changed.
 */
export type MailKind =
  "recording" | "reminder" | "folder" | "join" | "notice" | "code" | "start" | "reset" | "address" | "changed";

/** What somebody may say that they do not want: what others send them, or what is new for them. */
export const REFUSALS = ["sent", "news"] as const;
export type Refusal = (typeof REFUSALS)[number];

const REFUSED_AS: Partial<Record<MailKind, Refusal>> = {
  recording: "sent",
  reminder: "sent",
  folder: "sent",
  join: "sent",
  notice: "news",
};

/** By which refusal mail of a kind is kept back; null for what is about somebody's own account, which comes always. */
export const refusalOf = (kind: MailKind): Refusal | null => REFUSED_AS[kind] ?? null;
