/** The sources a take can have. One word each, the same in code, tables and addresses. */
export const TRACK_KINDS = ["screen", "camera", "microphone", "sound"] as const;
export type TrackKind = (typeof TRACK_KINDS)[number];

/**
 * What a track is called within its take: by its kind, and from the second of a kind on with a number, as in
 * `camera-2`. The name tells the kind.
 */
export type TrackName = TrackKind | `${TrackKind}-${number}` | typeof SUPPRESSED;

/** The voice of a take without the noise around it, made of its `microphone`. No recorder sends one. */
export const SUPPRESSED = "microphone-suppressed";

/** How many tracks of one kind a take may have. */
export const MOST_OF_A_KIND = 4;
const NAME = new RegExp(`^(${TRACK_KINDS.join("|")})(?:-[2-${MOST_OF_A_KIND}])?$`);

/** The kind of the track with this name; null for what is no such name. */
export const kindOf = (name: string): TrackKind | null => (NAME.exec(name)?.[1] as TrackKind | undefined) ?? null;

/** What a person chose to record. */
export const TAKE_SOURCES = ["screen-camera", "screen", "camera", "voice"] as const;
export type TakeSource = (typeof TAKE_SOURCES)[number];

/** Which kind of surface was shared, in the words of the Screen Capture standard. */
export const SURFACES = ["monitor", "window", "browser"] as const;
export type Surface = (typeof SURFACES)[number];

/** Frames a second of the grid on which takes are joined. */
export const PICTURE_RATE = 30;

/**
 * How long one segment is meant to be. What a tab that dies can lose is the segment in hand, what its encoders still
 * hold, and a write: together that stays under the promised 2 s.
 */
export const SEGMENT_SECONDS = 1.5;

/** The largest segment that is taken: 16 MiB. */
export const SEGMENT_MAX_BYTES = 16 * 1024 * 1024;

export const isPicture = (kind: TrackKind): kind is "screen" | "camera" => kind === "screen" || kind === "camera";

export const showsScreen = (source: TakeSource) => source === "screen" || source === "screen-camera";
export const showsCamera = (source: TakeSource) => source === "camera" || source === "screen-camera";
