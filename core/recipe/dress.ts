import { GAIN } from "../audio/gain";
import { MUSIC_LEVEL, MUSIC_UNDER, TUNES, type Music, type Tune } from "../audio/music";
import { CARD_STYLES, CARD_STAYS, CARD_TEXT_MAX, isWebAddress, type Card } from "../layout/card";
import { PLACES, SCENE_KINDS, SIZES, type Arrangement, type Rect } from "../layout/layout";
import {
  MARK_COLOURS,
  MARK_TEXT_MAX,
  MOST_DRAWN_MS,
  MOST_PUT_ON,
  PUT_ON_POINTS,
  PUT_TOOLS,
  type Mark,
} from "../layout/mark";
import { INSET_SHAPES, MOST_FADE, type InsetShape } from "../layout/scene";
import { LEAST_SIDE, MOST_TILT, TURNS, type View } from "../layout/view";
import { SECOND, type Micros } from "../time/micros";
import type { Range } from "../time/ranges";
import { isObject, listAt, numberAt, objectAt, oneOfAt, textAt, type Fields } from "./fields";
import { checkOvers, inOrder, stretchAt } from "./over";
import { RecipeError } from "./recipe-error";

/** The sounds of a recording that have a gain of their own, and the pictures that have a view. */
export const GAINED = ["microphone", "sound"] as const;
export type Gained = (typeof GAINED)[number];
export const VIEWED = ["screen", "camera"] as const;
export type Viewed = (typeof VIEWED)[number];

/** How the pictures are arranged, and how long that takes to come. */
export interface Arranged extends Arrangement {
  shape: InsetShape;
  fade: Micros;
}
/** By how many dB each sound is louder than elsewhere. */
export type Louder = { readonly [T in Gained]?: number };

/** What a recipe says besides what is kept: things of these kinds, each with a name of its own. */
export interface Facets {
  /** by how many dB a sound is played louder than it was recorded; named after it */
  gains: number;
  /** the noise around a sound is taken out; named after it */
  suppression: true;
  /** the same as a gain for a stretch, on top of that */
  louder: Range & { by: Louder };
  /** what is drawn for a stretch, instead of what was arranged while recording */
  scenes: Range & { arranged: Arranged };
  /** the place of the main picture that fills it for a stretch */
  zooms: Range & { place: Rect };
  /** what of a picture is shown; named after its track */
  views: View;
  /** what was drawn while editing, from one moment to another */
  marks: Range & { mark: Mark };
  /** before the beginning ("opening") and after the end ("closing") */
  cards: Card;
  /** how long all sounds take to come ("in") and to go ("out") */
  fades: Micros;
  /** under all of it; there is one ("bed") */
  music: Music;
}
export type Facet = keyof Facets;
export type Dress = { readonly [P in Facet]?: Readonly<Record<string, Facets[P]>> };

/** One thing as it is to be; null for not at all. */
export type Put<P extends Facet = Facet> = { [Q in P]: { facet: Q; id: string; value: Facets[Q] | null } }[P];
/** One thing as it was, and as it is: turned round, it is its own inverse. */
export interface Swap {
  facet: Facet;
  id: string;
  before: Facets[Facet] | null;
  after: Facets[Facet] | null;
}

export const FADE = { least: 0, most: 10 * SECOND };
export const CARDS = ["opening", "closing"] as const;
const FADES = ["in", "out"] as const;
const BEDS = ["bed"] as const;
const SUPPRESSIBLE = ["microphone"] as const;

interface FacetRules<P extends Facet> {
  /** the names that there are; any where that is not told */
  names?: readonly string[];
  /** stretches of which none overlaps another */
  overs?: true;
  most: number;
  read: (value: unknown, path: string) => Facets[P];
}

const decibels = (value: unknown, path: string): number => Math.round(10 * numberAt(value, path, { ...GAIN })) / 10;
function readTrue(value: unknown, path: string): true {
  if (value !== true) throw new RecipeError(path, "is true, or not there");
  return true;
}
const over = <T extends object>(rest: (fields: Fields, path: string) => T) => {
  return (value: unknown, path: string): Range & T => {
    const fields = objectAt(value, path);
    return { ...stretchAt(fields, path), ...rest(fields, path) };
  };
};

const RULES: { [P in Facet]: FacetRules<P> } = {
  gains: { names: GAINED, most: GAINED.length, read: decibels },
  suppression: { names: SUPPRESSIBLE, most: SUPPRESSIBLE.length, read: readTrue },
  louder: { overs: true, most: 1_000, read: over(({ by }, path) => ({ by: readLouder(by, `${path}/by`) })) },
  scenes: {
    overs: true,
    most: 1_000,
    read: over(({ arranged }, path) => ({ arranged: readArranged(objectAt(arranged, path), `${path}/arranged`) })),
  },
  zooms: { overs: true, most: 1_000, read: over(({ place }, path) => ({ place: readRegion(place, `${path}/place`) })) },
  views: { names: VIEWED, most: VIEWED.length, read: readView },
  marks: {
    most: MOST_PUT_ON,
    read: over(({ mark }, path) => ({ mark: readMark(objectAt(mark, `${path}/mark`), `${path}/mark`) })),
  },
  cards: { names: CARDS, most: CARDS.length, read: readCard },
  music: { names: BEDS, most: BEDS.length, read: readMusic },
  fades: { names: FADES, most: FADES.length, read: (value, path) => numberAt(value, path, { ...FADE, whole: true }) },
};
export const FACETS = Object.keys(RULES) as Facet[];
/** Those that are stretches, of which none overlaps another. */
export const OVERS: ReadonlySet<Facet> = new Set(FACETS.filter((facet) => RULES[facet].overs));
/** How many things of a kind are kept. */
export const mostOf = (facet: Facet): number => RULES[facet].most;

/** What is there with other things put. Kinds of which nothing is there are not named. */
export function dressed(dress: Dress, puts: readonly Put[]): Dress {
  const next: Partial<Record<Facet, Record<string, unknown>>> = {};
  for (const { facet, id, value } of puts) {
    const things = (next[facet] ??= { ...dress[facet] });
    if (isNothing(facet, value)) delete things[id];
    else things[id] = value;
  }
  const all = Object.entries({ ...dress, ...next }).filter(([, things]) => Object.keys(things).length > 0);
  return Object.fromEntries(all) as Dress;
}

/** A gain of 0 is none, and so is a fade that takes no time. */
export const isNothing = (facet: Facet, value: unknown) =>
  value === null || ((facet === "gains" || facet === "fades") && value === 0);

/** What is another thing in one than in the other. */
export function swapsBetween(before: Dress, after: Dress): Swap[] {
  return FACETS.flatMap((facet) => {
    const [a, b]: Record<string, Facets[Facet]>[] = [before[facet] ?? {}, after[facet] ?? {}];
    if (a === b) return [];
    return [...new Set([...Object.keys(a!), ...Object.keys(b!)])].flatMap((id): Swap[] => {
      const [was, is] = [a![id] ?? null, b![id] ?? null];
      return sameThing(was, is) ? [] : [{ facet, id, before: was, after: is }];
    });
  });
}

export const putsOf = (swaps: readonly Swap[]): Put[] =>
  swaps.map(({ facet, id, after }) => ({ facet, id, value: after }) as Put);

/** Are two things of JSON the same, in whatever order their fields are? */
export function sameThing(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((v, i) => sameThing(v, b[i]));
  if (!isObject(a) || !isObject(b)) return false;
  const names = Object.keys(a);
  return names.length === Object.keys(b).length && names.every((name) => name in b && sameThing(a[name], b[name]));
}

/** Reads what a recipe says besides what is kept. @throws {RecipeError} naming the place */
export function parseDress(value: Fields, path: string): Dress {
  const puts = FACETS.flatMap((facet): Put[] => {
    if (value[facet] === undefined) return [];
    return Object.entries(objectAt(value[facet], `${path}/${facet}`)).map(([id, thing]) =>
      readPut(facet, id, thing, `${path}/${facet}/${id}`),
    );
  });
  const dress = dressed({}, puts);
  checkDress(dress, path);
  return dress;
}

/** Reads one thing that is put; null for not at all. @throws {RecipeError} */
export function readPut(facet: Facet, id: string, value: unknown, path: string): Put {
  const { names, read } = RULES[facet];
  if (names ? !names.includes(id) : !/^[\da-z][\w-]{0,39}$/i.test(id)) throw new RecipeError(path, "has no such name");
  return { facet, id, value: value === null ? null : read(value, path) } as Put;
}

/** @throws {RecipeError} where there are too many, or stretches overlap */
function checkDress(dress: Dress, path: string): void {
  for (const facet of FACETS) {
    const { most, overs } = RULES[facet];
    const things = dress[facet] ?? {};
    if (Object.keys(things).length > most) throw new RecipeError(`${path}/${facet}`, `at most ${most} are kept`);
    if (overs) checkOvers(things as Record<string, Range>, `${path}/${facet}`);
  }
}

function readLouder(value: unknown, path: string): Louder {
  const fields = objectAt(value, path);
  return Object.fromEntries(
    Object.keys(fields).map((track) => [
      oneOfAt(track, `${path}/${track}`, GAINED),
      // Down to nothing that is heard.
      numberAt(fields[track], `${path}/${track}`, { least: MUTED, most: GAIN.most }),
    ]),
  );
}

function readArranged({ scene, place, size, shape, fade }: Fields, path: string): Arranged {
  return {
    scene: oneOfAt(scene, `${path}/scene`, SCENE_KINDS),
    place: oneOfAt(place, `${path}/place`, PLACES),
    size: oneOfAt(size, `${path}/size`, SIZES),
    shape: oneOfAt(shape, `${path}/shape`, INSET_SHAPES),
    fade: numberAt(fade, `${path}/fade`, { least: 0, most: MOST_FADE, whole: true }),
  };
}

function readRegion(value: unknown, path: string): Rect {
  const { x, y, width, height } = objectAt(value, path);
  const side = (at: unknown, name: string) => numberAt(at, `${path}/${name}`, { least: LEAST_SIDE, most: 1 });
  const rect = { x: 0, y: 0, width: side(width, "width"), height: side(height, "height") };
  // What rounding takes is not outside.
  const place = (at: unknown, name: string, length: number) =>
    Math.min(1 - length, numberAt(at, `${path}/${name}`, { least: 0, most: 1 - length + 1e-6 }));
  return { ...rect, x: place(x, "x", rect.width), y: place(y, "y", rect.height) };
}

function readView(value: unknown, path: string): View {
  const { turn, tilt, crop } = objectAt(value, path);
  return {
    turn: oneOfAt(turn, `${path}/turn`, TURNS),
    tilt: numberAt(tilt, `${path}/tilt`, { least: -MOST_TILT, most: MOST_TILT }),
    crop: readRegion(crop, `${path}/crop`),
  };
}

function readMark({ tool, colour, path: points, text, staysMs, clearedAt }: Fields, path: string): Mark {
  if (staysMs !== null || clearedAt !== null) throw new RecipeError(path, "stays from one moment to another");
  const list = listAt(points, `${path}/path`, 3 * PUT_ON_POINTS, (value, place) =>
    numberAt(value, place, { least: 0, most: MOST_DRAWN_MS }),
  );
  const isPath =
    list.length >= 3 &&
    list.length % 3 === 0 &&
    list.every((value, i) => (i % 3 < 2 ? value <= 1 : i < 3 ? value === 0 : value >= list[i - 3]!));
  if (!isPath) throw new RecipeError(`${path}/path`, "points in shares are needed, at times that do not go back");
  return {
    tool: oneOfAt(tool, `${path}/tool`, PUT_TOOLS),
    colour: oneOfAt(colour, `${path}/colour`, MARK_COLOURS),
    path: list,
    text: textAt(text, `${path}/text`, MARK_TEXT_MAX),
    staysMs: null,
    clearedAt: null,
  };
}

function readMusic(value: unknown, path: string): Music {
  const { tune, decibels, under } = objectAt(value, path);
  return {
    tune: oneOfAt(tune, `${path}/tune`, Object.keys(TUNES) as Tune[]),
    decibels: numberAt(decibels, `${path}/decibels`, MUSIC_LEVEL),
    under: numberAt(under, `${path}/under`, MUSIC_UNDER),
  };
}

function readCard(value: unknown, path: string): Card {
  const { style, title, name, date, next, url, stays } = objectAt(value, path);
  const text = (v: unknown, field: string) => textAt(v, `${path}/${field}`, CARD_TEXT_MAX);
  const address = textAt(url, `${path}/url`, 500);
  if (address && !isWebAddress(address)) throw new RecipeError(`${path}/url`, "an address of the web is needed");
  return {
    style: oneOfAt(style, `${path}/style`, CARD_STYLES),
    title: text(title, "title"),
    name: text(name, "name"),
    date: text(date, "date"),
    next: text(next, "next"),
    url: address,
    stays: numberAt(stays, `${path}/stays`, { ...CARD_STAYS, whole: true }),
  };
}

/** So many dB are taken for silence. */
export const MUTED = -60;

/** Does so little mean that nothing of it is heard? */
export const isMuted = (decibels: number | undefined): boolean => decibels !== undefined && decibels <= MUTED;

/** Where nothing is heard of a track, on the source line, in order. */
export const mutedIn = ({ louder }: Pick<Dress, "louder">, track: string): Range[] =>
  inOrder(louder).flatMap(({ from, to, by }) => (isMuted(by[track as Gained]) ? [{ from, to }] : []));
