/** What a program may do for somebody, besides what that person may. */
export const SCOPES = ["read", "answers", "change"] as const;
export type Scope = (typeof SCOPES)[number];

export const SCOPE_WORDS: Record<Scope, string> = {
  read: "See your library: titles, links, chapters and captions",
  answers: "See comments, and who watched and answered",
  change: "Change titles, descriptions and tags",
};
