import { readInvitees, type Invitee } from "#core/answers/invitees";
import type { Transaction } from "sequelize";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import { NAMESAKES } from "./sql";

/** The people in a text. @throws {Problem} 422 naming what is no address, and where nobody is in it */
export function requireInvitees(text: string): Invitee[] {
  const { invitees, wrong } = readInvitees(text);
  if (wrong.length > 0)
    throw new Problem(422, "no-address", `These are no addresses: ${wrong.slice(0, 3).join(", ")}. Nobody was added.`);
  if (invitees.length === 0) throw new Problem(422, "nobody", "Give a name or an address.");
  return invitees;
}

/**
 * Nobody gets what is meant for somebody because they are called so: whoever is given by a name alone that a colleague
 * has is asked for anew, with what the colleague is known by.
 * @throws {Problem} 422 naming the colleague and their address
 */
export async function requireNoNamesakes(
  db: Database,
  workspaceId: string,
  invitees: readonly Invitee[],
  transaction?: Transaction,
): Promise<void> {
  const names = invitees.filter(({ email }) => email === null).map(({ name }) => name.toLowerCase());
  if (names.length === 0) return;
  const [colleague] = await db.rows<{ name: string; email: string }>(NAMESAKES, [workspaceId, names], transaction);
  if (!colleague) return;
  const { name, email } = colleague;
  throw new Problem(
    422,
    "namesake",
    `A colleague is called ${name}. If you mean them, write ${email}; for somebody else add a word to the name. Nobody was added.`,
  );
}
