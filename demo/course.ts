import type { IncomingMessage, ServerResponse } from "node:http";
import { embedCode } from "../core/embed/code";
import { embedSize } from "../core/embed/size";
import { escaped } from "../core/markup/text";
import { readBody } from "../server/http/body";
import { Problem } from "../server/http/problem";
import type { Runtime } from "../server/runtime";
import type { Settings } from "../server/settings";
import { TRUST_SITE } from "../server/workspaces/sql";
import { MOST_SITES } from "../core/access/sites";
import { WORKSPACE_ID } from "./people";
import { otherSite, standIn, type StandIn } from "./stand-in";

/** What somebody has put into the page: a recording that plays there, or a link to one. */
interface Piece {
  src: string;
  title: string;
  /** null for a link */
  size: { width: number; height: number } | null;
}

const FORM = { most: 16_384, withinMs: 10_000 };
const MOST_PIECES = 12;
const ASK_MS = 10_000;

/** Where the course is. */
export const courseOrigin = (settings: Pick<Settings, "publicUrl" | "coursePort">): string =>
  otherSite(settings, settings.coursePort);

/**
 * Stands in for the course site of a school: one page, on another origin, into which recordings are put, as the HTML
 * that sharing gives, or as a link of which it asks (oEmbed). It keeps nothing.
 */
export async function startCourse(runtime: Runtime): Promise<StandIn | null> {
  const { db, settings } = runtime;
  const url = courseOrigin(settings);
  const course = new Course(settings.publicUrl, url, () => sampleOf(runtime));
  const stands = await standIn(runtime, {
    what: "The page of a course that shows some of it",
    ...{ port: settings.coursePort, setting: "COURSE_PORT" },
    answer: (req, res) => void course.answer(req, res),
  });
  // On another port since the sample was loaded, it is another site.
  if (stands) await db.rows(TRUST_SITE, [WORKSPACE_ID, url, MOST_SITES]);
  return stands;
}

/** The recording of the sample that is in the page from the start. */
async function sampleOf({ db, settings }: Runtime): Promise<Piece[]> {
  const [row] = await db.rows<{ token: string; title: string }>(
    `select token, title from recordings
      where workspace_id = $1 and audience = 'anyone' and password_id is null and deleted_at is null
      order by (title ilike '%scarf%') desc, created_at limit 1`,
    [WORKSPACE_ID],
  );
  if (!row) return [];
  const size = embedSize({ width: 16, height: 9 }, 640);
  const link = `${settings.publicUrl}/w/${row.token}`;
  return [readEmbed(embedCode({ link, title: row.title, size, captions: true, comments: true }))!];
}

class Course {
  #put: Piece[] = [];

  constructor(
    private readonly publicUrl: string,
    private readonly url: string,
    private readonly sample: () => Promise<Piece[]>,
  ) {}

  async answer(req: IncomingMessage, res: ServerResponse): Promise<void> {
    try {
      // By its other name it would be the same site as ours.
      if (req.headers.host !== new URL(this.url).host) return redirect(res, this.url);
      if (req.method === "POST") {
        if (req.headers.origin !== this.url) throw new Problem(403, "foreign-origin", "This came from another site.");
        const fields = new URLSearchParams((await readBody(req, FORM, "stand-in")).toString("utf8"));
        if (req.url === "/clear") this.#put = [];
        else await this.#add(fields.get("what")?.trim() ?? "");
        return redirect(res, "/");
      }
      page(res, 200, this.publicUrl, [...(await this.sample()), ...this.#put], "");
    } catch (error) {
      if (res.headersSent) return void res.destroy();
      const { status, message } =
        error instanceof Problem ? error : { status: 502, message: "Clear Nod does not answer. Try again." };
      page(res, status, this.publicUrl, this.#put, message);
    }
  }

  async #add(what: string): Promise<void> {
    if (this.#put.length >= MOST_PIECES) throw new Problem(422, "too-many", "The page is full. Clear it first.");
    const piece = what.startsWith("<") ? readEmbed(what) : await this.#askedOf(what);
    if (!piece) throw new Problem(422, "not-valid", "This is neither a link of Clear Nod nor HTML of one.");
    this.#put.push(piece);
  }

  /** As a page does that is given a link: it looks for who tells of it, and asks there. */
  async #askedOf(link: string): Promise<Piece | null> {
    if (!this.#isOurs(link)) return null;
    const html = await this.#ask(link);
    const said = /<link [^>]*type="application\/json\+oembed"[^>]*>/.exec(html ?? "")?.[0];
    const href = said && unescaped(/href="([^"]*)"/.exec(said)?.[1] ?? "");
    const answer = href && this.#isOurs(href) ? await this.#ask(href) : null;
    if (!answer) throw new Problem(422, "not-told", "Nobody tells what is at this link. Is it for anyone?");
    const { html: code, title } = JSON.parse(answer) as { html?: string; title: string };
    return code ? readEmbed(code) : { src: link, title, size: null };
  }

  #isOurs(address: string): boolean {
    return URL.canParse(address) && new URL(address).origin === new URL(this.publicUrl).origin;
  }

  async #ask(address: string): Promise<string | null> {
    const answer = await fetch(address, { signal: AbortSignal.timeout(ASK_MS) });
    return answer.ok ? answer.text() : null;
  }
}

/** What HTML puts into a page, if it is one embed. */
function readEmbed(html: string): Piece | null {
  const tag = /^<iframe\b[^>]*>/i.exec(html.trim())?.[0];
  const attribute = (name: string) => unescaped(new RegExp(`\\s${name}="([^"]*)"`, "i").exec(tag ?? "")?.[1] ?? "");
  const [width, height] = [Number(attribute("width")), Number(attribute("height"))];
  const src = attribute("src");
  if (!/^https?:/.test(src) || !URL.canParse(src) || !(width > 0) || !(height > 0)) return null;
  return { src, title: attribute("title"), size: { width, height } };
}

const NAMED: Record<string, string> = { amp: "&", quot: '"', lt: "<", gt: ">", "#x27": "'" };
const unescaped = (text: string) =>
  text.replaceAll(/&(?:#(\d+)|([\w#]+));/g, (whole, code: string | undefined, name: string) =>
    code ? String.fromCodePoint(Number(code)) : (NAMED[name] ?? whole),
  );

function redirect(res: ServerResponse, to: string): void {
  res.writeHead(303, { location: to });
  res.end();
}

function page(res: ServerResponse, status: number, publicUrl: string, pieces: Piece[], problem: string): void {
  const ours = new URL(publicUrl).origin;
  res.writeHead(status, {
    "content-type": "text/html; charset=utf-8",
    "cache-control": "no-store",
    "content-security-policy": `default-src 'none'; style-src 'unsafe-inline'; frame-src ${ours}; form-action 'self'`,
  });
  res.end(PAGE(pieces.map(pieceHtml).join("\n"), problem && `<p role="alert">${escaped(problem)}</p>`));
}

const pieceHtml = ({ src, title, size }: Piece) =>
  size
    ? `<iframe src="${escaped(src)}" title="${escaped(title)}" width="${size.width}" height="${size.height}"
  allow="fullscreen; clipboard-write"></iframe>`
    : `<p><a href="${escaped(src)}">${escaped(title)}</a></p>`;

const PAGE = (pieces: string, problem: string) => `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Week 3: joints · Timber and glass, evening course</title>
<style>
  :root { color-scheme: light; }
  body { font: 17px/1.55 Georgia, serif; color: #222; background: #fff; }
  body { max-width: 62rem; margin: 0 auto; padding: 1rem; }
  h1 { font-size: 1.6rem; margin: 0.2em 0; }
  nav { border-bottom: 2px solid #445; padding-bottom: 0.4rem; color: #445; }
  iframe { display: block; max-width: 100%; border: 0; margin: 1rem 0; }
  form { margin-top: 0.5rem; }
  textarea { width: 100%; box-sizing: border-box; font: 14px monospace; }
  footer { border-top: 1px solid #889; margin-top: 2rem; padding-top: 0.5rem; }
  [role=alert] { background: #fde; padding: 0.5rem; }
</style>
<nav>Timber and glass, evening course</nav>
<main>
  <h1>Week 3: joints that carry glass</h1>
  <p>Look at this before Thursday, and say there whether it is clear. We cut the joint together at the bench.</p>
  ${pieces}
</main>
<footer>
  ${problem}
  <form method="post" action="/add">
    <label for="what">Put a recording into this page: its link, or its HTML</label>
    <textarea id="what" name="what" rows="3" required></textarea>
    <button>Put it in</button>
  </form>
  <form method="post" action="/clear"><button>Take out what was put in</button></form>
  <p>This page stands in for the site of a school. It comes with the sample, and keeps nothing.</p>
</footer>
</html>
`;
