import type { Audience } from "./access";

/** What is told of who may open a recording. */
export interface ToldAudience {
  audience: Audience;
  /** those who are named, in the order in which they were */
  named: readonly string[];
  /** what its folder is called; null where it lies in none */
  folder: string | null;
  /** ms since 1970; null for at once, and for ever */
  opensAt: number | null;
  endsAt: number | null;
  hasPassword: boolean;
  comments: boolean;
  downloads: boolean;
}

/** Names as people say them: one, two, or one and how many others. */
export function sayNames(names: readonly string[]): string {
  const [first, second, ...more] = names;
  if (first === undefined) return "nobody yet";
  if (second === undefined) return first;
  return more.length === 0 ? `${first} and ${second}` : `${first} and ${more.length + 1} others`;
}

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);

/** Who may open it, without when and with what. @param workspace the workspace's name */
export function sayWho(
  { audience, named, folder }: Pick<ToldAudience, "audience" | "named" | "folder">,
  workspace: string,
): string {
  const besides = named.length > 0 ? ` and ${sayNames(named)}` : "";
  const inFolder = folder === null ? "" : ` and the people of “${folder}”`;
  switch (audience) {
    case "owner":
      return "Only you";
    case "named":
      return named.length > 0 ? capital(sayNames(named)) : "Only you, and nobody named yet";
    case "folder":
      return folder === null ? `Only you${besides}: it lies in no folder` : `The people of “${folder}”${besides}`;
    case "workspace":
      return `Everybody of ${workspace}${inFolder}${besides}`;
    case "anyone":
      return "Anyone with the link";
  }
}

/**
 * Who may open a recording, in one sentence without its end: "Ida and 2 others, until Friday, with a password".
 * @param now ms since 1970
 * @param day how a moment is said
 */
export function sayAudience(
  told: ToldAudience,
  { workspace, now, day }: { workspace: string; now: number; day: (at: number) => string },
): string {
  const who = sayWho(told, workspace);
  if (told.audience === "owner") return who;
  const { opensAt, endsAt, hasPassword, comments, downloads } = told;
  const over = endsAt !== null && endsAt <= now;
  const parts = [
    who,
    over ? `but it was open until ${day(endsAt)}` : opensAt !== null && opensAt > now && `from ${day(opensAt)}`,
    endsAt !== null && !over && `until ${day(endsAt)}`,
    hasPassword && "with a password",
    !comments && "without comments",
    downloads && "with downloads",
  ];
  return parts.filter(Boolean).join(", ");
}
