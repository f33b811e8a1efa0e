import Joi from "joi";
import { isPublic } from "#core/access/access";
import { Problem } from "#server/http/problem";
import { oembedOf, oembedXml } from "#core/embed/oembed";
import { refused } from "../services/fields.server";
import { appContext, type AppContext } from "../services/context.server";
import type { Route } from "./+types/oembed";

const side = Joi.number().integer().min(1).max(100_000);
const form = Joi.object({
  url: Joi.string()
    .uri({ scheme: ["http", "https"] })
    .max(2_000)
    // What follows a standard for addresses may still be none that can be opened ("http://%").
    .custom((text: string, { error }) => (URL.canParse(text) ? text : error("string.uri")))
    .required(),
  maxwidth: side,
  maxheight: side,
  format: Joi.string().max(20).default("json"),
});

/** What a page is told that wants to show a link of ours: of what anybody may see, and of nothing else (oEmbed 1.0). */
export async function loader({ context, request }: Route.LoaderArgs) {
  const app = context.get(appContext);
  try {
    const { value, error } = form.validate(Object.fromEntries(new URL(request.url).searchParams), {
      stripUnknown: true,
    });
    if (error) throw new Problem(400, "not-valid", error.message);
    const { url, maxwidth: width, maxheight: height, format } = value as Asked;
    if (format !== "json" && format !== "xml") throw new Problem(501, "no-format", "JSON and XML are written here.");
    await app.runtime.limits.take("tell", { viewer: app.address, address: app.address });
    const about = await aboutOf(app, url);
    const said = oembedOf(about, { ...(width && { width }), ...(height && { height }) });
    return format === "json"
      ? answer(JSON.stringify(said), "application/json; charset=utf-8")
      : answer(oembedXml(said), "text/xml; charset=utf-8");
  } catch (problem) {
    // As a program is answered: the status, and a sentence for whoever looks.
    const { data, init } = refused(problem);
    return answer(JSON.stringify(data), "application/json; charset=utf-8", init?.status);
  }
}

interface Asked {
  url: string;
  maxwidth?: number;
  maxheight?: number;
  format: string;
}

/** Whoever asks is nobody: it is told to the whole page, whoever looks at it. @throws {Problem} 404 */
async function aboutOf(app: AppContext, url: string) {
  const { access, library, playback, posters, sites, settings } = app.runtime;
  const token = await tokenOf(app, new URL(url));
  const { door, recording } = token ? await access.find(null, token) : { door: "nothing", recording: null };
  if (door !== "open" || !recording || !isPublic(recording))
    throw new Problem(404, "not-found", "There is nothing here that anybody may show.");
  const [{ title, sender }, playable, poster, trusted] = await Promise.all([
    library.details(recording.id),
    playback.playable(recording.id, recording.token),
    posters.sizeOf(recording.id),
    sites.of(recording.workspaceId),
  ]);
  return {
    link: `${settings.publicUrl}/w/${recording.token}`,
    title,
    sender,
    publicUrl: settings.publicUrl,
    frame: playable?.frame ?? null,
    poster,
    embeds: trusted.length > 0,
  };
}

/** The token in a link, an embed's address, or a short link; short ones that lead nowhere are counted. */
async function tokenOf({ runtime, address }: AppContext, url: URL): Promise<string | null> {
  if (url.origin !== new URL(runtime.settings.publicUrl).origin) return null;
  const [, kind, name] = /^\/([wes])\/([\w-]+)\/?$/.exec(url.pathname) ?? [];
  if (kind !== "s") return name ?? null;
  const token = await runtime.sharing.tokenOfShort(name!);
  if (!token) await runtime.limits.take("shortMiss", { viewer: address, address });
  return token;
}

/** Pages read it from their own site. */
const answer = (body: string, type: string, status = 200) =>
  new Response(body, {
    status,
    headers: {
      "content-type": type,
      "cache-control": status === 200 ? "public, max-age=300" : "no-store",
      "access-control-allow-origin": "*",
      "cross-origin-resource-policy": "cross-origin",
    },
  });
