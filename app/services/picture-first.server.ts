import { text } from "node:stream/consumers";
import type { Readable } from "node:stream";

/** So long its code waits for a picture at most. */
const MOST_MS = 2_000;

/**
 * Lets the page's own code come: when the first layer shows something, when somebody presses, types or steps into the
 * page, or after a while. Runs right behind the script that is held.
 */
const RELEASE = `{
  const held = document.currentScript.previousElementSibling;
  const signs = ["loadeddata", "error", "pointerdown", "keydown", "focusin"];
  const release = ({ type, target }) => {
    if ((type === "loadeddata" || type === "error") && !target.matches?.("[data-layer]")) return;
    for (const sign of signs) removeEventListener(sign, release, true);
    clearTimeout(late);
    if (!held.isConnected) return;
    for (const href of held.dataset.modules.split(" ").filter(Boolean)) {
      const link = document.createElement("link");
      link.rel = "modulepreload";
      link.href = href;
      document.head.append(link);
    }
    const script = document.createElement("script");
    script.type = "module";
    script.nonce = held.nonce;
    script.textContent = held.textContent;
    held.replaceWith(script);
  };
  for (const sign of signs) addEventListener(sign, release, true);
  const late = setTimeout(release, ${MOST_MS}, {});
  document.currentScript.remove();
}`;

const PRELOAD = /<link rel="modulepreload"[^>]*href="([^"]*)"[^>]*>/g;
const ENTRY = /<script nonce="([^"]*)" type="module" async="">(import [^<]*)<\/script>/;

/**
 * The page with its own code held back until it shows something. Some seventy files that are fetched and run with the
 * player make its first picture half as late again; a press that comes before them is kept (`early-press`).
 * @param page of which the code of the player runs by itself
 * @returns the same page where it has no player, or its code stands otherwise than it used to
 */
export async function pictureFirst(page: Readable): Promise<string> {
  const html = await text(page);
  const entry = ENTRY.exec(html);
  if (!entry || !html.includes(' data-opening="')) return html;
  const [whole, nonce, code] = entry;
  const modules = [...html.matchAll(PRELOAD)].map(([, href]) => href);
  const held =
    `<script nonce="${nonce}" type="text/plain" data-modules="${modules.join(" ")}">${code}</script>` +
    `<script nonce="${nonce}">${RELEASE}</script>`;
  return html.replace(PRELOAD, "").replace(whole, () => held);
}
