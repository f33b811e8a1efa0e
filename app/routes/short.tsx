import { redirect } from "react-router";
import { closedDoor } from "../services/door.server";
import { appContext } from "../services/context.server";
import { orRefused } from "../services/fields.server";
import { Door, NO_LINK } from "../watch/Door";
import type { Route } from "./+types/short";

/** A short link. Those that lead nowhere are counted, so that nobody tries them all. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const { runtime, address } = context.get(appContext);
  const token = await runtime.sharing.tokenOfShort(params.short);
  if (token) return redirect(`/w/${token}`);
  await orRefused(runtime.limits.take("shortMiss", { viewer: address, address }));
  throw closedDoor({ door: "nothing", recording: null });
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return <Door error={error} token={NO_LINK} />;
}

export default function Nowhere() {
  return null;
}
