/** Outside places that films can be sent to. */
export const PLACE_KINDS = ["webdav"] as const;
export type PlaceKind = (typeof PLACE_KINDS)[number];

/** How a recording stands at a place. */
export const SENDING_STATES = ["waiting", "sending", "processing", "there", "failed", "removing"] as const;
export type SendingState = (typeof SENDING_STATES)[number];

export const PLACE_NAME_MAX = 60;
