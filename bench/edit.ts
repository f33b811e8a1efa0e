import { act, shownBy } from "../core/recipe/history";
import { connect } from "../testing/seeds";
import { anHour, without } from "./an-hour";
import { QuietPage } from "./quiet";
import { figureOf, lookedOver, p95, type Figure, type Rig } from "./rig";

/** In an hour. */
const CUTS = 200;
const WORDS = 2_000;
const LINE = `document.querySelector("[data-testid=line]")`;
/** Draws as many frames as the browser gives while something is done in each of them. */
const counted = (deed: string) => `new Promise((done) => {
  const began = performance.now();
  let n = 0;
  const next = () => {
    const at = performance.now() - began;
    if (at > 3000) return done((1000 * n) / at);
    n++;
    ${deed};
    requestAnimationFrame(next);
  };
  requestAnimationFrame(next);
})`;
const SCROLL = `${LINE}.scrollLeft = (at / 3000) * ${LINE}.scrollWidth`;
const DRAG = `window.handle.dispatchEvent(new PointerEvent("pointermove", {
  bubbles: true, pointerId: 1, clientX: window.handleAt + 40 * Math.sin(at / 200) }))`;

/** When the line was there and the page alive, from where the page was asked for. */
const WHEN_DRAWN = `
  const look = () => {
    if (document.querySelector("[data-testid=line] canvas")?.width > 400) window.lineAt = performance.now();
    else requestAnimationFrame(look);
  };
  requestAnimationFrame(look);`;

/** The edit page with an hour and 200 cuts: how soon it is there, and how it moves; and a deed, in the core alone. */
export async function edit(rig: Rig): Promise<Figure[]> {
  const hour = await anHour(rig);
  const cuts = Array.from({ length: CUTS }, (_, n) => [n * 17.9 + 5, n * 17.9 + 5.2 + (n % 9)] as const);
  const history = without(hour, cuts);
  await hour.post("/draft", { do: "save", version: "0", seen: "1", history: JSON.stringify(history) });
  const deeds: number[] = [];
  const kept = shownBy(history);
  for (let n = 0; n < 200; n++) {
    const from = ((n * 7_919) % 3_500) * 1e6;
    const began = performance.now();
    const next = act(history, kept, { do: n % 2 ? "leave-out" : "put-back", from, to: from + 3e6 }, [hour.take]);
    shownBy(next);
    // The first ones run before the code is compiled.
    if (n >= 20) deeds.push(performance.now() - began);
  }
  const db = await connect(rig.databaseUrl);
  await db.query(
    `update recordings set captions = (
       select jsonb_agg(jsonb_build_object('from', n * 1790000, 'to', n * 1790000 + 1500000, 'text', 'word ' || n))
         from generate_series(0::bigint, $2::bigint - 1) n) where id = $1`,
    [hour.recordingId, WORDS],
  );
  await db.end();
  const path = `/recordings/${hour.recordingId}/edit`;
  // What is made of an hour once is made before: it has its own figure.
  const made = performance.now();
  await lookedOver(rig, hour.recordingId);
  const making = performance.now() - made;
  const page = await QuietPage.open(rig, "/library", { script: WHEN_DRAWN });
  try {
    await page.until(`document.querySelector("main, h1")`);
    await page.evaluate(`location.assign(${JSON.stringify(path)})`);
    await page.until("window.lineAt && window.clearNodPlayer");
    const opened = await page.evaluate<number>("lineAt");
    await new Promise((next) => setTimeout(next, 3_000));
    for (let n = 0; n < 5; n++) await page.evaluate(`document.querySelector("[aria-label=Wider]").click()`);
    const scrolled = await page.evaluate<number>(counted(SCROLL));
    await page.evaluate(`(() => {
      ${LINE}.scrollLeft = 0;
      window.handle = document.querySelectorAll("[data-testid=line] [role=slider]")[3];
      window.handleAt = window.handle.getBoundingClientRect().x;
      window.handle.setPointerCapture = () => undefined;
      window.handle.dispatchEvent(new PointerEvent("pointerdown", { bubbles: true, pointerId: 1, clientX: window.handleAt }));
    })()`);
    const dragged = await page.evaluate<number>(counted(DRAG));
    const figure = figureOf("edit");
    const deed = p95(deeds);
    return [
      figure(
        "the page of an hour with 200 cuts and 2,000 words: from asking for it to its line drawn",
        opened,
        "ms",
        "≤ 1000",
        opened <= 1000,
      ),
      figure("scrolling, 32 times wider: frames a second", scrolled, "/s", "≥ 50", scrolled >= 50),
      figure("dragging an end: frames a second", dragged, "/s", "≥ 50", dragged >= 50),
      figure("a deed in the core, 95 %", deed, "ms", "≤ 16", deed <= 16),
      figure("looking an hour over, after it was there", making / 1000, "s"),
    ];
  } finally {
    await page.close();
  }
}
