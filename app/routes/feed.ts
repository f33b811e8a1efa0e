import { createHash } from "node:crypto";
import { Problem } from "#server/http/problem";
import { atomOf } from "#server/folders/atom";
import { refused } from "../services/fields.server";
import { appContext, type AppContext } from "../services/context.server";
import type { Route } from "./+types/feed";

/** What is new in a folder, for the feed reader of somebody who may see it: Atom (RFC 4287). */
export async function loader({ context, params, request }: Route.LoaderArgs) {
  try {
    const xml = await feedAt(context.get(appContext), params.key);
    const etag = `"${createHash("sha256").update(xml).digest("base64url").slice(0, 27)}"`;
    const headers = { etag, "cache-control": "private, max-age=300" };
    if (request.headers.get("if-none-match") === etag) return new Response(null, { status: 304, headers });
    return new Response(xml, { headers: { ...headers, "content-type": "application/atom+xml; charset=utf-8" } });
  } catch (problem) {
    const { data, init } = refused(problem);
    const headers = { "content-type": "text/plain; charset=utf-8", "cache-control": "no-store" };
    return new Response(data.error, { status: init?.status, headers });
  }
}

/** @throws {Problem} 404, the same for an address that is none and for a folder that is seen no more */
async function feedAt({ runtime, address }: AppContext, key: string): Promise<string> {
  const { feeds, folders, folderContents, limits, settings } = runtime;
  const shown = await feeds.shown(key);
  if (!shown) {
    await limits.take("feedMiss", { viewer: address, address });
    throw new Problem(404, "not-found", "There is no feed at this address.");
  }
  const { id, folderId, subject } = shown;
  await limits.take("feed", { viewer: id, address });
  const folder = await folders.require(subject, "see", folderId).catch((problem: unknown) => {
    if (!(problem instanceof Problem)) throw problem;
    throw new Problem(404, "not-found", "There is no feed at this address.");
  });
  const rows = await folderContents.arrived(subject, folder);
  const { publicUrl } = settings;
  return atomOf({ id, folder, rows, self: `${publicUrl}/feeds/${key}`, publicUrl });
}
