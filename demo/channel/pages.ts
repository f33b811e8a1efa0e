import { escaped } from "../../core/markup/text";
import type { SeenBy } from "../../core/places/kinds";
import type { Video } from "./videos";

const SEEN: Record<SeenBy, string> = {
  people: "only people of the guild see it",
  link: "whoever has its link sees it",
  everybody: "everybody sees it",
};

interface Front {
  videos: readonly Video[];
  /** as one of the guild's people */
  within: boolean;
  /** goes wrong with the next one, as somebody wished */
  wrong: string | null;
  url: string;
  key: string;
}

/** The page of all videos, with what a stand-in has besides. */
export const frontPage = ({ videos, within, wrong, url, key }: Front): string =>
  page(
    "Glasshouse guild",
    `<h1>Shown to the guild</h1>
  ${videos.length === 0 ? "<p>There is nothing here yet.</p>" : `<ul>${videos.map(line).join("\n")}</ul>`}
  <form method="post" action="${within ? "/leave" : "/come-in"}">
    <button>${within ? "Look as a stranger" : "Look as one of the guild"}</button>
  </form>`,
    `<form method="post" action="/wrong">
    <fieldset><legend>On purpose</legend>
      <button name="what" value="break">Break off the next upload</button>
      <button name="what" value="fail">Let work on the next one fail</button>
      ${wrong === null ? "" : `<p role="status">${escaped(wrong)}</p>`}
    </fieldset>
  </form>
  <p>This page stands in for the channel of a guild. It comes with the sample, and keeps what it is sent in the data
  directory. Name it as a place: address <code>${escaped(url)}</code>, key <code>${escaped(key)}</code>.</p>`,
  );

const line = ({ id, title, state, problem, seenBy, shown }: Video): string =>
  `<li>${shown === null ? `<strong>${escaped(title)}</strong>` : `<a href="/v/${id}">${escaped(title)}</a>`}
  <span>${state === "ready" ? SEEN[seenBy] : state === "working" ? "is being worked on" : escaped(problem ?? "")}</span>
  </li>`;

/** The page of one video. */
export function videoPage({ id, title, description, type }: Video): string {
  const player = type.startsWith("audio/") ? "audio" : "video";
  return page(
    title,
    `<p><a href="/">All videos</a></p>
  <h1>${escaped(title)}</h1>
  <${player} controls src="/v/${id}/file"></${player}>
  <p class="said">${escaped(description)}</p>`,
  );
}

export const nothingPage = (): string => page("Nothing here", "<h1>There is nothing here.</h1>");

const page = (title: string, main: string, footer = ""): string => `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escaped(title)} · Glasshouse guild</title>
<style>
  :root { color-scheme: light; }
  body { font: 17px/1.55 Georgia, serif; color: #222; background: #faf6ee; }
  body { max-width: 52rem; margin: 0 auto; padding: 1rem; }
  nav { border-bottom: 2px solid #643; padding-bottom: 0.4rem; color: #643; }
  h1 { font-size: 1.6rem; margin: 0.4em 0; overflow-wrap: anywhere; }
  li { margin: 0.3rem 0; overflow-wrap: anywhere; }
  li span { color: #555; }
  video, audio { width: 100%; background: #000; }
  .said { white-space: pre-wrap; }
  footer { border-top: 1px solid #987; margin-top: 2rem; padding-top: 0.5rem; overflow-wrap: anywhere; }
</style>
<nav>The channel of the glasshouse guild</nav>
<main>
  ${main}
</main>
${footer && `<footer>${footer}</footer>`}
</html>
`;
