import { Readable } from "node:stream";
import { orRefused } from "../services/fields.server";
import { requireMember } from "../services/guard.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/everything";

/** Everything of whoever is signed in, as one file. */
export async function loader({ context, request, url }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const { runtime, address } = app;
  const member = requireMember(app, url);
  await orRefused(runtime.limits.take("everything", { viewer: member.id, address }));
  const archive = await runtime.everything.of(member);
  request.signal.addEventListener("abort", () => archive.destroy());
  return new Response(Readable.toWeb(archive) as ReadableStream, {
    headers: {
      "content-type": "application/zip",
      "content-disposition": 'attachment; filename="clear-nod.zip"',
      "cache-control": "no-store",
    },
  });
}
