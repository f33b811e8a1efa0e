import { data } from "react-router";
import { GROUP_NAMES } from "#core/answers/groups";
import { sayAnswer } from "#core/answers/kinds";
import { toAnnotationPage } from "#core/answers/web-annotation";
import { formatClock, toSeconds } from "#core/time/micros";
import { writeCsv } from "#core/viewing/csv";
import type { KnownRecording } from "#server/access/facts";
import { ownFigures, orNotFound, requireMember } from "../services/guard.server";
import { appContext, type AppContext } from "../services/context.server";
import type { Route } from "./+types/figures-file";

type Writer = (app: AppContext, recording: KnownRecording) => Promise<{ body: BodyInit; type: string }>;

const FILES: Record<string, Writer> = {
  "people.csv": async ({ runtime }, { id }) => {
    const ask = await runtime.asks.of(id);
    const { people } = await runtime.figures.one(id, ask, Date.now(), { offset: 0, limit: 100_000 });
    const head = [
      "Who",
      "Address",
      "Group",
      "Overdue",
      "First opened",
      "Last opened",
      "Seen (seconds)",
      "Seen (share)",
      "Finished",
      "Played again",
      "Answer",
      "Answered",
    ];
    const rows = people.rows.map((p) => [
      p.name ?? "Unnamed guest",
      p.invite?.email ?? null,
      GROUP_NAMES[p.group],
      p.overdue ? "yes" : "no",
      p.firstOpenedAt,
      p.lastOpenedAt,
      toSeconds(p.covered),
      Math.round(p.share * 1000) / 1000,
      p.finished ? "yes" : "no",
      p.again.map((r) => `${formatClock(r.from)}-${formatClock(r.to)}`).join(" "),
      p.answer && sayAnswer(ask, p.answer),
      p.answeredAt,
    ]);
    return { body: writeCsv([head, ...rows]), type: "text/csv; charset=utf-8" };
  },
  "statements.json": async ({ runtime }, { id, token }) => {
    const { title } = await runtime.library.details(id);
    const pieces = runtime.figures.statements(id, `${runtime.settings.publicUrl}/w/${token}`, title);
    const encoder = new TextEncoder();
    const body = new ReadableStream({
      async pull(controller) {
        const { value, done } = await pieces.next();
        if (done) controller.close();
        else controller.enqueue(encoder.encode(value));
      },
    });
    return { body, type: "application/json" };
  },
  "comments.json": async ({ runtime }, { id, token }) => {
    const page = toAnnotationPage(`${runtime.settings.publicUrl}/w/${token}`, await runtime.comments.toAnnotations(id));
    return {
      body: JSON.stringify(page, null, 2),
      type: 'application/ld+json; profile="http://www.w3.org/ns/anno.jsonld"',
    };
  },
};

/** What the sender takes out, in open formats: RFC 4180, xAPI, W3C Web Annotation. */
export async function loader({ context, params, url }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const member = requireMember(app, url);
  const write = Object.hasOwn(FILES, params.file) ? FILES[params.file] : undefined;
  if (!write) throw data({ message: "There is nothing at this address." }, { status: 404 });
  const recording = await orNotFound(ownFigures(app, member, params.id));
  const { body, type } = await write(app, recording);
  return new Response(body, {
    headers: {
      "content-type": type,
      "content-disposition": `attachment; filename="${params.file}"`,
      "cache-control": "no-store",
    },
  });
}
