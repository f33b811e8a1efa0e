import { redirect } from "react-router";
import { Door, NO_LINK } from "../watch/Door";
import { closedDoor } from "../services/door.server";
import { Problem } from "#server/http/problem";
import { appContext } from "../services/context.server";
import { passesCookie } from "../services/session.server";
import type { Route } from "./+types/personal";

const TOKEN = /^[\w-]{10,40}$/;

/** A personal link: the browser shows it from now on, and goes to the recording, the folder, or one recording of it. */
export async function loader({ context, params, url }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const { doors, passes } = app.runtime;
  try {
    const { path, pass } = await doors.personal(params.key);
    const to = url.searchParams.get("to") ?? "";
    return redirect(TOKEN.test(to) ? `/w/${to}` : path, {
      headers: { "set-cookie": passesCookie(app, passes.add(app.passesCookie, pass)) },
    });
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem;
    throw closedDoor({ door: "nothing", recording: null });
  }
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return <Door error={error} token={NO_LINK} />;
}

export default function Nowhere() {
  return null;
}
