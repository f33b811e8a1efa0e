/** Outside places that films can be sent to: folders on servers, and channels, where films are shown. */
export const PLACE_KINDS = ["webdav", "channel"] as const;
export type PlaceKind = (typeof PLACE_KINDS)[number];

/** Who may watch a film at a channel, from few to all: its people, whoever has the link there, everybody. */
export const SEEN_BY = ["people", "link", "everybody"] as const;
export type SeenBy = (typeof SEEN_BY)[number];

/** How a recording stands at a place. */
export const SENDING_STATES = ["waiting", "sending", "processing", "there", "failed", "removing"] as const;
export type SendingState = (typeof SENDING_STATES)[number];

export const PLACE_NAME_MAX = 60;
