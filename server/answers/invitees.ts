import { readInvitees, type Invitee } from "#core/answers/invitees";
import { Problem } from "../http/problem";

/** The people in a text. @throws {Problem} 422 naming what is no address, and where nobody is in it */
export function requireInvitees(text: string): Invitee[] {
  const { invitees, wrong } = readInvitees(text);
  if (wrong.length > 0)
    throw new Problem(422, "no-address", `These are no addresses: ${wrong.slice(0, 3).join(", ")}. Nobody was added.`);
  if (invitees.length === 0) throw new Problem(422, "nobody", "Give a name or an address.");
  return invitees;
}
