import { appContext } from "../services/context.server";
import type { Route } from "./+types/unread";

/** How much is new for the member who is signed in: what the bar asks when something has happened somewhere. */
export async function loader({ context }: Route.LoaderArgs) {
  const { member, runtime } = context.get(appContext);
  return member ? runtime.inbox.unread(member.id) : 0;
}
