import { createHash } from "node:crypto";
import { join } from "node:path";
import { changesInPlay } from "#core/audio/sound-at";
import { Arranging, Nearing, type Placed } from "#core/film/placed";
import { momentIn, shotsOf, type Shot } from "#core/film/shots";
import type { Card } from "#core/layout/card";
import type { Size } from "#core/layout/layout";
import { marksAt, type ShownMark } from "#core/layout/mark";
import { alone, visibleIn, type SceneEvent } from "#core/layout/scene";
import { isAsItIs } from "#core/layout/view";
import { shiftTicks } from "#core/media/retime";
import { kindOf, type TrackName } from "#core/media/tracks";
import type { Viewed } from "#core/recipe/dress";
import { frameAt, momentOf } from "#core/recipe/frames";
import { BRIDGED } from "#core/recipe/track-spans";
import { SECOND, toTicks, type Micros } from "#core/time/micros";
import type { Work } from "../editing/sounds";
import type { Playable } from "../playback/playback";
import { drawShot, drawStill, even, type Drawn, type Layer } from "./compose";
import { cardPicture, type PutOn } from "./drawn";
import { shownRange, writeRun, type MovedRun, type Run } from "./runs";
import { soundsOf } from "./sound";

/** What a film is made of. */
export interface Material {
  playable: Playable;
  /** by the names of tracks */
  runs: ReadonlyMap<string, readonly Run[]>;
  /** pictures that are put on it */
  pictures: PutOn;
}

/** A part of a film that is made by itself, and put before and after others. */
export interface Part {
  /** of how many pictures it is */
  pictures: number;
  /** tells what is drawn in it: what has the same one is the same. Found out each time, and kept by nobody */
  digest(): string;
  draw(work: Work, output: string): Promise<void>;
}

/** Counts what changes how films are drawn: parts of another version are not put together. */
const VERSION = 1;

/** The size of a film, in pixels. */
export const filmSize = ({ width, height }: Size): Size => ({ width: even(width), height: even(height) });

/** The picture tracks that a player draws: the one that others are shown with, and the camera over it. */
const tracksOf = ({ lead, layers }: Playable): TrackName[] => {
  const camera = layers.find(({ role }) => role === "camera");
  return camera ? [lead, camera.name] : [lead];
};

/** What a film shows, part after part: its cards, and what was recorded. Nothing where there is no picture. */
export function partsOf(material: Material): Part[] {
  const { frame, dress } = material.playable;
  if (!frame) return [];
  const { opening, closing } = dress.cards;
  const card = (of: Card | undefined) => (of ? [cardPart(of, filmSize(frame))] : []);
  return [...card(opening), ...shotParts(material, filmSize(frame)), ...card(closing)];
}

function cardPart(card: Card, frame: Size): Part {
  const pictures = frameAt(card.stays);
  return {
    pictures,
    digest: () => digestOf({ card, frame }),
    draw: async ({ dir, signal }, output) =>
      drawStill({ png: await cardPicture(card, frame), pictures }, dir, output, signal),
  };
}

function shotParts({ playable, runs, pictures }: Material, frame: Size): Part[] {
  const { lead, scenes, marks, dress, durationUs } = playable;
  const events = scenes.length > 0 ? scenes : [{ ...alone(lead), at: 0 }];
  const [arranging, nearing] = [new Arranging(events), new Nearing(dress.zooms)];
  const tracks = tracksOf(playable);
  // What is never seen of a picture is in no film, not even where that stands still.
  const seen = new Map(tracks.map((name) => [name, seenOf(runs.get(name) ?? [], name, events)]));
  const joins = [...seen.values()].flat().map((run) => shownRange(run).from);
  const shots = shotsOf(durationUs, [...arranging.moving, ...nearing.moving], joins);
  /** What is drawn in a shot: worked out when it is asked for, because of an hour it would be a lot. */
  const planned = (shot: Shot) => {
    const all = Array.from({ length: shot.to - shot.from }, (_, i) => momentIn(shot.from + i));
    const moments = shot.moves ? all : all.slice(0, 1);
    const placed = moments.map((at) => arranging.at(at));
    return tracks.flatMap((name) => {
      const theirs = placedOf(placed, lead, name);
      const run = theirs && partAt(seen.get(name)!, shot);
      if (!theirs || !run) return [];
      const { width = 0, height = 0 } = run.init;
      const view = dress.views[name as Viewed];
      const layer: Omit<Layer, "file"> = {
        first: firstOf(run, shot),
        size: { width, height },
        view: view && !isAsItIs(view) ? view : undefined,
        placed: theirs,
        ...(name === lead && {
          lead: { places: moments.map((at) => nearing.at(at)), marks: drawnAt(marks, all) },
        }),
      };
      return [{ run, layer }];
    });
  };
  return shots.map((shot): Part => {
    const count = shot.to - shot.from;
    return {
      pictures: count,
      digest: () => {
        const layers = planned(shot).map(({ run: { initKey, segments }, layer }) => ({
          keys: [initKey, ...segments.map(({ key }) => key)],
          layer,
        }));
        return digestOf({ frame, count, layers, pictures: [...pictures.keys()] });
      },
      draw: async ({ storage, dir, signal }, output) => {
        const layers: Layer[] = [];
        for (const { run, layer } of planned(shot)) {
          const file = join(dir, `${layers.length}.mp4`);
          await writeRun(storage, run, file, signal);
          layers.push({ ...layer, file });
        }
        await drawShot({ frame, count, layers, pictures }, dir, output, signal);
      },
    };
  });
}

/** What is drawn at these moments, each state of it once; nothing where nothing is drawn at all. */
function drawnAt(marks: readonly ShownMark[], moments: readonly Micros[]): Drawn[] {
  const near = marks.filter(({ from, to }) => from <= moments.at(-1)! && moments[0]! < to);
  if (near.length === 0) return [];
  const drawn: (Drawn & { state: string })[] = [];
  for (const at of moments) {
    const seen = marksAt(near, at);
    const state = JSON.stringify(seen);
    const last = drawn.at(-1);
    if (last?.state === state) last.pictures++;
    else drawn.push({ seen, state, pictures: 1 });
  }
  return drawn.map(({ seen, pictures }) => ({ seen, pictures }));
}

const digestOf = (drawn: unknown) =>
  createHash("sha256")
    .update(JSON.stringify([VERSION, drawn]))
    .digest("hex")
    .slice(0, 32);

/** Where a track lies at each moment; where it does not yet, or not any more, it is not seen. Null for nowhere. */
function placedOf(moments: readonly Placed[][], lead: TrackName, name: TrackName): Placed[] | null {
  const is = (track: TrackName) => track === name || (name !== lead && kindOf(track) === kindOf(name));
  const found = moments.map((placed) => placed.find(({ track }) => is(track)));
  const any = found.find((placed) => placed !== undefined);
  return any ? found.map((placed) => placed ?? { ...any, opacity: 0 }) : null;
}

/** The segments of which something is seen. */
function seenOf(runs: readonly Run[], name: TrackName, scenes: readonly SceneEvent[]): Run[] {
  const times = visibleIn(scenes, name);
  return runs.flatMap((run) => {
    const segments = run.segments.filter(({ start, duration }) => {
      const [from, to] = [start + run.later, start + duration + run.later];
      return times.some((time) => time.from < to && from < time.to);
    });
    return segments.length > 0 ? [{ ...run, segments }] : [];
  });
}

/** What a track has in a shot; where that is nothing, what stands there: its last picture before, or its next. */
function partAt(runs: readonly Run[], shot: Shot): Run | null {
  const [from, to] = [momentOf(shot.from), momentOf(shot.to)];
  const of = (run: Run, segments: Run["segments"]) => ({ ...run, segments });
  for (const run of runs) {
    const there = run.segments.filter(
      ({ start, duration }) => start + run.later < to - ROUNDED && start + duration + run.later > from + ROUNDED,
    );
    if (there.length > 0) return of(run, there);
  }
  const before = runs.findLast((run) => shownRange(run).from < to);
  if (before) return of(before, [before.segments.findLast(({ start }) => start + before.later < to)!]);
  return runs[0] ? of(runs[0], [runs[0].segments[0]!]) : null;
}

const ROUNDED: Micros = 100;

/** How many pictures of a part stand before a shot; no more than it has. */
function firstOf(run: Run, shot: Shot): number {
  const begins = frameAt(run.segments[0]!.start + run.later);
  const { from, to } = shownRange(run);
  return Math.min(shot.from - begins, Math.max(0, frameAt(to - from) - 1));
}

/**
 * The pictures of a recording of which nothing is drawn, and which are as they were recorded: of one track, in H.264,
 * that fills the frame. Null for all others.
 */
export function plainPictures({ playable, runs }: Material): MovedRun[] | null {
  const { lead, scenes, marks, dress, frame } = playable;
  const theirs = runs.get(lead) ?? [];
  const [first] = theirs;
  if (!frame || !first?.init.codec.startsWith("avc1")) return null;
  const isAlone = scenes.every(
    ({ layers: [layer, ...more] }) =>
      more.length === 0 && layer?.track === lead && layer.rect.width === 1 && layer.shape === "rectangle",
  );
  const undressed = marks.length === 0 && dress.zooms.length === 0 && !dress.views[lead as Viewed];
  const { width, height } = filmSize(frame);
  const fills = first.init.width === width && first.init.height === height;
  return isAlone && undressed && fills && isWhole(playable, theirs) ? moved(theirs, 1, 0) : null;
}

/**
 * The sound of a recording that is heard as it was recorded: of one track, in AAC, as loud as it is. Null for all
 * others.
 */
export function plainSound({ playable, runs }: Material): MovedRun[] | null {
  const { layers, dress, music } = playable;
  const [sound, ...more] = soundsOf(layers);
  const theirs = (sound && runs.get(sound.name)) ?? [];
  const [first] = theirs;
  if (!sound || !first?.init.codec.startsWith("mp4a")) return null;
  const asItIs = more.length === 0 && !sound.gain && !music && !changesInPlay(dress);
  const phase = toTicks(shownRange(first).from, first.init.timescale);
  return asItIs && isWhole(playable, theirs) ? moved(theirs, AAC_PACKET, phase) : null;
}

/** Samples in a packet (ISO/IEC 14496-3, AAC LC). */
const AAC_PACKET = 1024;

/** Is it of one track, from the beginning to the end, without anything before and after? */
function isWhole({ dress: { cards }, durationUs }: Playable, runs: readonly Run[]): boolean {
  const lengths = runs.map(({ segments }) => segments.reduce((sum, { duration }) => sum + duration, 0));
  const whole = lengths.reduce((sum, length) => sum + length, 0);
  return (
    !cards.opening &&
    !cards.closing &&
    runs.every(({ trackId }) => trackId === runs[0]!.trackId) &&
    // Tracks of a take end a little apart: the last picture stands, or the sound ends earlier.
    Math.abs(whole - durationUs) < BRIDGED
  );
}

/** As they are published. @param packet ticks of what lies on the grid of the track; @param phase where that begins */
function moved(runs: readonly Run[], packet: number, phase: number): MovedRun[] {
  return runs.map((run) => {
    const { timescale } = run.init;
    const start = toTicks(run.segments[0]!.start, timescale);
    const shown = (shownRange(run).from * timescale) / SECOND;
    return { ...run, ticks: run.later === 0 ? 0 : shiftTicks({ start, shown }, packet, phase) };
  });
}
