import { KEPT_DAYS, LETS_IN, TABLE, type Audience, type Deed, type Role, type Standing, type State } from "./access";

/**
 * Expressions of a query: the id of the person who asks, the ids of their workspaces (`uuid[]`), and what their browser
 * shows of personal links to folders (`uuid[]`; left out, it shows none).
 */
export interface SubjectSql {
  person: string;
  workspaces: string;
  folderPasses?: string;
  /** a table with the ids of their folders, where several parts of a query ask for these: what `foldersOfSql` finds */
  folders?: string;
}

const ALL: readonly Standing[] = ["owner", "known", "holder"];
const LIVE: readonly State[] = ["draft", "shared", "shut"];
const OPENED = "(r.opens_at is null or r.opens_at <= now()) and (r.ends_at is null or r.ends_at > now())";
/** Where a recording that is not deleted stands. */
const IS_IN: Record<Exclude<State, "deleted">, string> = {
  draft: "r.audience = 'owner'",
  shared: `r.audience <> 'owner' and ${OPENED}`,
  shut: `r.audience <> 'owner' and not (${OPENED})`,
};

/**
 * The line of a deed in the table of `access`, as a condition on `recordings r`. For lists: what one may see is chosen
 * by the database, for people who show no personal link to a recording and no password. A test proves that both forms
 * agree on every combination.
 * @param as only for those who stand so: a list of one's own recordings is found by a condition that is easy to plan
 */
export function maySql(deed: Deed, subject: SubjectSql, as: readonly Standing[] = ALL): string {
  const allowed = (standing: Standing, state: State) => TABLE[deed][state].includes(standing);
  const live = as.map((standing) => {
    const states = LIVE.filter((state) => allowed(standing, state));
    const where = states.length === LIVE.length ? "true" : or(states.map((s) => `(${IS_IN[s as keyof typeof IS_IN]})`));
    return and(where, standingSql(standing, deed, subject));
  });
  const deleted = as.filter((s) => allowed(s, "deleted")).map((s) => standingSql(s, deed, subject));
  const kept = `r.deleted_at > now() - interval '${KEPT_DAYS} days'`;
  return or([and("r.deleted_at is null", or(live)), and(kept, or(deleted))]);
}

const NOBODY = "false";
/** What its owner allows others besides, or not. */
const ALLOWED: { [D in Deed]?: string } = { comment: "r.comments", download: "r.downloads" };

function standingSql(standing: Standing, deed: Deed, subject: SubjectSql): string {
  const owner = `r.owner_id is not distinct from ${subject.person}`;
  if (standing === "owner") return owner;
  const known = letInSql("known", subject);
  const others = and(`not (${owner})`, ALLOWED[deed] ?? "true");
  if (standing === "known") return and(others, known);
  return and(`${others} and not ${known} and r.password_id is null`, letInSql("holder", subject));
}

/**
 * The ids of the folders under those of which a condition on `folder_people p` is true, with themselves. Looked for one
 * by one: for a thousand at once the index of paths takes ten times as long.
 */
const under = (theirs: string) =>
  `select f.id from folder_people p join folders f on f.path @> array[p.folder_id] where ${theirs}`;

/**
 * The ids of the folders to which somebody belongs by their account, as two queries: found once, whatever number of
 * recordings is looked at.
 */
export const foldersOfSql = ({ person, workspaces }: SubjectSql): [string, string] => [
  under(`p.person_id = ${person}`),
  `select f.id from folders f where f.workspace_id = any(${workspaces}) and f.colleagues_here is not null`,
];

/** Does the audience let in as this, by any role that an account has? */
function letInSql(standing: Standing, subject: SubjectSql): string {
  const { person, workspaces, folderPasses, folders } = subject;
  const theirs = folders ? [`select id from ${folders}`] : foldersOfSql(subject);
  const is: Record<Role, string> = {
    named: `exists (select from invites n where n.recording_id = r.id and n.person_id = ${person})`,
    // Said of null as well: what is true of nobody is denied in the end.
    "in-folder": and("r.folder_id is not null", or(theirs.map((some) => `r.folder_id in (${some})`))),
    colleague: `r.workspace_id = any(${workspaces})`,
    bearer: NOBODY,
    "folder-bearer": folderPasses ? `r.folder_id in (${under(`p.pass = any(${folderPasses})`)})` : NOBODY,
    stranger: "true",
  };
  const audiences = Object.entries(LETS_IN) as [Audience, (typeof LETS_IN)[Audience]][];
  const roles = Object.keys(is) as Role[];
  return or(
    roles.map((role) => {
      const by = audiences.filter(([, some]) => some.some(([r, as]) => r === role && as === standing));
      const names = by.map(([audience]) => `'${audience}'`);
      return names.length === 0 ? NOBODY : and(`r.audience in (${names.join(", ")})`, is[role]);
    }),
  );
}

function and(a: string, b: string): string {
  if (a === NOBODY || b === NOBODY) return NOBODY;
  return a === "true" ? b : b === "true" ? a : `(${a} and ${b})`;
}

function or(conditions: string[]): string {
  const some = conditions.filter((c) => c !== NOBODY);
  return some.length === 0 ? NOBODY : `(${some.join(" or ")})`;
}
