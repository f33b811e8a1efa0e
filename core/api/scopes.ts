/** What a program may do for somebody, besides what that person may. */
export const SCOPES = ["read", "answers", "change", "share"] as const;
export type Scope = (typeof SCOPES)[number];

export const SCOPE_WORDS: Record<Scope, string> = {
  read: "See your library: titles, links, chapters, captions, folders and files",
  answers: "See comments, figures, and who watched and answered",
  change: "Change titles, descriptions and tags, and have recordings made as files",
  share: "Say who may open recordings, and put them into folders",
};
