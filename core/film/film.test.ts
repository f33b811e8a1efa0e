import { expect, it } from "vitest";
import { momentOf } from "../recipe/frames";
import { alone, FULL, USUAL_FADE, type SceneEvent } from "../layout/scene";
import { WHOLE, ZOOM_TAKES } from "../layout/view";
import { SECOND } from "../time/micros";
import { EASE, EASE_IN_OUT } from "./easing";
import { filmNotes } from "./notes";
import { Arranging, Nearing } from "./placed";
import { momentIn, shotsOf } from "./shots";

it("eases as browsers do", () => {
  // Outside check, from memory: `ease` of CSS is at 0.8024 half way, and at 0.4085 a quarter of it.
  expect(EASE(0.5)).toBeCloseTo(0.8024, 3);
  expect(EASE(0.25)).toBeCloseTo(0.4085, 3);
  expect(EASE_IN_OUT(0.5)).toBeCloseTo(0.5, 6);
  expect(EASE_IN_OUT(0.25)).toBeCloseTo(0.1292, 3);
  for (const ease of [EASE, EASE_IN_OUT]) expect([ease(-1), ease(0), ease(1), ease(2)]).toEqual([0, 0, 1, 1]);
});

const corner = { x: 0.7, y: 0.6, width: 0.2, height: 0.3 };
const left = { ...corner, x: 0 };
const events: SceneEvent[] = [
  { at: 0, layers: [{ track: "screen", rect: FULL, shape: "rectangle" }] },
  {
    at: 2 * SECOND,
    fade: USUAL_FADE,
    layers: [
      { track: "screen", rect: FULL, shape: "rectangle" },
      { track: "camera", rect: corner, shape: "arch" },
    ],
  },
  {
    at: 2 * SECOND + USUAL_FADE / 2,
    fade: USUAL_FADE,
    layers: [
      { track: "screen", rect: FULL, shape: "rectangle" },
      { track: "camera", rect: left, shape: "arch" },
    ],
  },
  { at: 4 * SECOND, fade: USUAL_FADE, layers: alone("screen").layers },
];

it("lays pictures as scenes have them, and as they come and go", () => {
  const arranging = new Arranging(events);
  const camera = (at: number) => arranging.at(at).find(({ track }) => track === "camera");
  expect(arranging.at(-1)).toEqual([]);
  expect(arranging.at(SECOND)).toEqual([{ track: "screen", rect: FULL, shape: "rectangle", opacity: 1 }]);
  // What was not there comes in its place.
  expect(camera(2 * SECOND)).toEqual({ track: "camera", rect: corner, shape: "arch", opacity: 0 });
  expect(camera(2 * SECOND + USUAL_FADE / 4)!.opacity).toBeCloseTo(EASE(0.25), 9);
  // Another scene goes on from where that one had come.
  const begun = camera(2 * SECOND + USUAL_FADE / 2)!;
  expect(begun.opacity).toBeCloseTo(EASE(0.5), 9);
  expect(begun.rect).toEqual(corner);
  const half = camera(2 * SECOND + USUAL_FADE)!;
  expect(half.rect.x).toBeCloseTo(corner.x * (1 - EASE(0.5)), 9);
  expect(half.opacity).toBeCloseTo(EASE(0.5) + (1 - EASE(0.5)) * EASE(0.5), 9);
  expect(camera(3 * SECOND)).toEqual({ track: "camera", rect: left, shape: "arch", opacity: 1 });
  // What goes stays where it was, and fades.
  const going = camera(4 * SECOND + USUAL_FADE / 2)!;
  expect([going.rect, going.opacity]).toEqual([left, 1 - EASE(0.5)]);
  expect(camera(4 * SECOND + USUAL_FADE)).toBeUndefined();
  expect(arranging.moving.map(({ from }) => from)).toEqual([2 * SECOND, 2 * SECOND + USUAL_FADE / 2, 4 * SECOND]);
});

it("leads to a place and back, and never beyond the picture", () => {
  const place = { x: 0.6, y: 0.1, width: 0.25, height: 0.25 };
  const next = { x: 0, y: 0.5, width: 0.5, height: 0.5 };
  const nearing = new Nearing([
    { from: SECOND, to: 3 * SECOND, place },
    { from: 3 * SECOND, to: 5 * SECOND, place: next },
  ]);
  expect(nearing.at(0)).toEqual(WHOLE);
  expect(nearing.at(SECOND + ZOOM_TAKES)).toEqual(place);
  // Half way its scale is half way, as a browser has it: 2.5 times.
  expect(nearing.at(SECOND + ZOOM_TAKES / 2).width).toBeCloseTo(1 / 2.5, 9);
  expect(nearing.at(3 * SECOND + ZOOM_TAKES)).toEqual(next);
  expect(nearing.at(5 * SECOND + ZOOM_TAKES)).toEqual(WHOLE);
  for (let at = 0; at < 6 * SECOND; at += 10_000) {
    const { x, y, width, height } = nearing.at(at);
    expect(Math.min(x, y)).toBeGreaterThanOrEqual(0);
    expect(Math.max(x + width, y + height)).toBeLessThanOrEqual(1 + 1e-9);
  }
  expect(nearing.moving).toHaveLength(3);
});

it("cuts a film into shots that lie side by side, in which all moves or nothing does", () => {
  const moving = [
    { from: momentOf(100), to: momentOf(108) },
    // Between two pictures: it is seen from the next one on.
    { from: momentOf(150) + 9_000, to: momentOf(171) + 9_000 },
  ];
  const shots = shotsOf(momentOf(700), moving, [0, momentOf(60)]);
  expect(shots.map(({ from, to, moves }) => [from, to, moves])).toEqual([
    [0, 60, false],
    [60, 100, false],
    [100, 108, true],
    [108, 151, false],
    [151, 172, true],
    [172, 472, false],
    [472, 700, false],
  ]);
  // What is at once another way begins a shot, and moves in none.
  const at = momentOf(50);
  expect(shotsOf(momentOf(90), [{ from: at, to: at }], []).map(({ to, moves }) => [to, moves])).toEqual([
    [50, false],
    [90, false],
  ]);
  expect(shotsOf(0, [], [0])).toEqual([]);
  // What begins with a picture is seen in it, whichever way its moment was rounded.
  for (let n = 0; n < 10_000; n++) expect(momentIn(n)).toBeGreaterThan(Math.ceil((n * SECOND) / 30));
});

it("writes what stands in a film", () => {
  const text = filmNotes(
    { title: "Sill = wet; #2", comment: "" },
    [
      { at: 0, title: "One\r\nline" },
      { at: 2_500_000, title: "Two" },
    ],
    4 * SECOND,
  );
  expect(text).toBe(
    ";FFMETADATA1\ntitle=Sill \\= wet\\; \\#2\n[CHAPTER]\nTIMEBASE=1/1000\nSTART=0\nEND=2500\ntitle=One\\\nline\n" +
      "[CHAPTER]\nTIMEBASE=1/1000\nSTART=2500\nEND=4000\ntitle=Two\n",
  );
  expect(filmNotes({ title: "Sill \\", artist: "Ida" }, [], SECOND)).toBe(
    ";FFMETADATA1\ntitle=Sill \\\\ \nartist=Ida\n",
  );
});
