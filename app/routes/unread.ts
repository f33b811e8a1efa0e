import type { Route } from "./+types/unread";

/** How much is new for the member who is signed in: what the bar asks when something has happened somewhere. */
export async function loader({ context: { member, runtime } }: Route.LoaderArgs) {
  return { unread: member ? await runtime.inbox.unread(member.id) : 0 };
}
