import { first } from "./001-first";

/** In order. A migration that has landed is never changed; a new one is added. */
export const migrations: { name: string; sql: string }[] = [{ name: "001-first", sql: first }];
