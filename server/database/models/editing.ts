import type { Range } from "#core/time/ranges";
import { DataTypes, type CreationOptional, type Sequelize } from "sequelize";
import { key, type Row } from "./row";

/** Which part of which segment a segment with a number below 0 is. */
export interface Edge extends Row<Edge> {
  trackId: string;
  ofNumber: number;
  /** ticks of the track, from the beginning of its take */
  fromTick: number;
  toTick: number;
  number: number;
}

/** What a recording is to show next, or has been asked to show last. */
export interface Publication extends Row<Publication> {
  recordingId: string;
  id: string;
  /** the number of the revision that whoever wants it has seen */
  seen: number;
  kept: Range[];
  state: "waiting" | "published" | "failed";
  /** edges that are made, of so many */
  done: CreationOptional<number>;
  wanted: CreationOptional<number>;
  problem: CreationOptional<string | null>;
  askedAt: CreationOptional<Date>;
}

export function defineEditing(sequelize: Sequelize) {
  const { UUID, TEXT, DATE, BIGINT, INTEGER, JSONB } = DataTypes;
  return {
    Edge: sequelize.define<Edge>("edge", {
      trackId: key(UUID),
      ofNumber: key(INTEGER),
      fromTick: key(BIGINT),
      toTick: key(BIGINT),
      number: INTEGER,
    }),
    Publication: sequelize.define<Publication>("publication", {
      recordingId: key(UUID),
      id: UUID,
      seen: INTEGER,
      kept: JSONB,
      state: TEXT,
      done: INTEGER,
      wanted: INTEGER,
      problem: TEXT,
      askedAt: DATE,
    }),
  };
}
