import { KEPT_DAYS, TABLE, type Deed, type Role, type State } from "./access";

const ALL_ROLES: readonly Role[] = ["owner", "colleague", "stranger"];

/** Expressions of a query: the id of the person who asks, and the ids of their workspaces (`uuid[]`). */
export interface SubjectSql {
  person: string;
  workspaces: string;
}

/**
 * The line of a deed in the table of `access`, as a condition on `recordings r`. For lists: what one may see is chosen
 * by the database, and a test proves that both forms agree on every combination.
 */
export function maySql(deed: Deed, subject: SubjectSql): string {
  const of = (state: State) => rolesSql(TABLE[deed][state], subject);
  const live = or([and("r.audience = 'owner'", of("draft")), and("r.audience <> 'owner'", of("shared"))]);
  const kept = `r.deleted_at > now() - interval '${KEPT_DAYS} days'`;
  return `(${or([and("r.deleted_at is null", live), and(kept, of("deleted"))])})`;
}

/** null: nobody; true: everybody */
type Condition = string | true | null;

function rolesSql(roles: readonly Role[], { person, workspaces }: SubjectSql): Condition {
  if (roles.length === 0) return null;
  if (ALL_ROLES.every((role) => roles.includes(role))) return true;
  const each: Record<Role, string> = {
    owner: `r.owner_id = ${person}`,
    colleague: `(r.owner_id is distinct from ${person} and r.workspace_id = any(${workspaces}))`,
    stranger: `not (r.owner_id is not distinct from ${person} or r.workspace_id = any(${workspaces}))`,
  };
  return or(roles.map((role) => each[role]));
}

function and(condition: string, more: Condition): Condition {
  if (more === null) return null;
  return more === true ? condition : `${condition} and (${more})`;
}

function or(conditions: Condition[]): string {
  const some = conditions.filter((c) => c !== null);
  return some.length === 0 ? "false" : some.map((c) => (c === true ? "true" : c)).join(" or ");
}
