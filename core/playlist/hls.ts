import { SECOND, toSeconds, type Micros } from "../time/micros";

/** One line of a media playlist. */
export interface ListedSegment {
  uri: string;
  duration: Micros;
  /** it is not to be had, and players are to go on behind it */
  withheld?: boolean;
}

/** Segments of one track, one after the other. */
export interface Run {
  initUri: string;
  segments: readonly ListedSegment[];
  /** before it there is nothing to play for so long, where it is more than players bridge by themselves */
  gap?: Micros;
}

export interface MediaPlaylist {
  runs: readonly Run[];
  /** false while the take is still growing: players then come back for more */
  complete: boolean;
}

/**
 * Segments are about 2 s; a growing playlist must not change its target (RFC 8216, 6.2.1), so there is room above it.
 */
const TARGET_SECONDS = 3;

/**
 * A media playlist of fragmented MP4 segments.
 * Source: RFC 8216 (version 7 for `EXT-X-MAP` outside I-frame playlists); `EXT-X-GAP`: draft-pantos-hls-rfc8216bis,
 * 4.4.4.7 (version 8).
 */
export function writeMediaPlaylist({ runs, complete }: MediaPlaylist): string {
  let target = TARGET_SECONDS;
  for (const { segments } of runs) {
    for (const s of segments) target = Math.max(target, Math.round(toSeconds(s.duration)));
  }
  const lines = [
    "#EXTM3U",
    `#EXT-X-VERSION:${runs.some((r) => r.gap || r.segments.some((s) => s.withheld)) ? 8 : 7}`,
    `#EXT-X-TARGETDURATION:${target}`,
    "#EXT-X-MEDIA-SEQUENCE:1",
    `#EXT-X-PLAYLIST-TYPE:${complete ? "VOD" : "EVENT"}`,
    "#EXT-X-INDEPENDENT-SEGMENTS",
  ];
  let map = "";
  for (const { initUri, segments, gap = 0 } of runs) {
    // Times go on over a join, as the segments are served with new ones: no discontinuity.
    if (initUri !== map) lines.push(`#EXT-X-MAP:URI="${initUri}"`);
    map = initUri;
    // In parts: a long one would stretch the target, by which players of a growing playlist come back.
    for (let left = gap; left > 0; left -= TARGET_SECONDS * SECOND) {
      const part = Math.min(left, TARGET_SECONDS * SECOND);
      lines.push("#EXT-X-GAP", `#EXTINF:${toSeconds(part).toFixed(6)},`, "gap.m4s");
    }
    for (const { uri, duration, withheld } of segments) {
      if (withheld) lines.push("#EXT-X-GAP");
      lines.push(`#EXTINF:${toSeconds(duration).toFixed(6)},`, uri);
    }
  }
  if (complete) lines.push("#EXT-X-ENDLIST");
  return lines.join("\n") + "\n";
}

/** A track as a multivariant playlist names it. */
export interface ListedTrack {
  uri: string;
  codec: string;
  /** bits per second: of the largest segment, and over all of them */
  peakRate: number;
  averageRate: number;
  width?: number;
  height?: number;
  channels?: number;
}

/**
 * A multivariant playlist: one picture, with sound when there is any, or one sound alone.
 * Source: RFC 8216, 4.3.4.
 */
export function writeMainPlaylist(picture: ListedTrack | null, sound: ListedTrack | null): string {
  const main = picture ?? sound;
  if (!main) throw new Error("a main playlist needs a picture or a sound");
  const inGroup = picture ? sound : null;
  const tracks = inGroup ? [main, inGroup] : [main];
  const sum = (rate: "peakRate" | "averageRate") => Math.max(1, Math.ceil(tracks.reduce((all, t) => all + t[rate], 0)));
  const attributes = [
    `BANDWIDTH=${sum("peakRate")}`,
    `AVERAGE-BANDWIDTH=${sum("averageRate")}`,
    `CODECS="${tracks.map((t) => t.codec).join(",")}"`,
    ...(main.width && main.height ? [`RESOLUTION=${main.width}x${main.height}`] : []),
    ...(inGroup ? ['AUDIO="sound"'] : []),
  ];
  return (
    [
      "#EXTM3U",
      "#EXT-X-VERSION:7",
      "#EXT-X-INDEPENDENT-SEGMENTS",
      ...(inGroup
        ? [
            `#EXT-X-MEDIA:TYPE=AUDIO,GROUP-ID="sound",NAME="Sound",DEFAULT=YES,AUTOSELECT=YES,CHANNELS="${inGroup.channels ?? 1}",URI="${inGroup.uri}"`,
          ]
        : []),
      `#EXT-X-STREAM-INF:${attributes.join(",")}`,
      main.uri,
    ].join("\n") + "\n"
  );
}
