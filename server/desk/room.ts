import Joi from "joi";
import type { Transaction } from "sequelize";
import { SECOND, type Micros } from "#core/time/micros";
import { requireDeed } from "../access/require";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import { ROOM } from "./sql";

/** What a workspace may record. Null where there is no limit. */
export interface Room {
  longestUs: Micros | null;
  /** bytes that it may hold */
  most: number | null;
  /** bytes that it holds; 0 where there is no limit, unless they were asked for */
  used: number;
}

/** Minutes that a take may last, and gigabytes that a workspace may hold, of which an owner chooses. 0: no limit. */
export const LONGEST_MINUTES = [0, 5, 15, 30, 60, 120, 240] as const;
export const STORAGE_GIGABYTES = [0, 1, 5, 20, 100, 500, 2_000] as const;
const GIGABYTE = 1e9;

export const roomForm = Joi.object({
  minutes: Joi.number()
    .valid(...LONGEST_MINUTES)
    .required(),
  gigabytes: Joi.number()
    .valid(...STORAGE_GIGABYTES)
    .required(),
});

/** How long and how much may be recorded in a workspace: told before, and held to. */
export class Rooms {
  constructor(private readonly db: Database) {}

  /** @param counted what it holds is wanted where there is no limit as well */
  async of(workspaceId: string, counted = false, transaction?: Transaction): Promise<Room> {
    const [room] = await this.db.rows<Room>(ROOM, [workspaceId, counted], transaction);
    if (!room) throw new Problem(404, "not-found", "This workspace is not there any more.");
    return room;
  }

  /** @throws {Problem} 409 where nothing more may be recorded */
  async require(workspaceId: string, transaction?: Transaction): Promise<void> {
    const { most, used } = await this.of(workspaceId, false, transaction);
    if (most !== null && used >= most)
      throw new Problem(
        409,
        "workspace-full",
        "This workspace is full, so nothing was recorded. " +
          "Erase recordings that are not needed, or ask an owner for more room.",
      );
  }

  /** @throws {Problem} 403 for those who may not */
  async set(member: SignedIn, { minutes, gigabytes }: { minutes: number; gigabytes: number }): Promise<void> {
    requireDeed(member, "manage");
    await this.db.models.Workspace.update(
      {
        longestTakeUs: minutes === 0 ? null : minutes * 60 * SECOND,
        storageBytes: gigabytes === 0 ? null : gigabytes * GIGABYTE,
      },
      { where: { id: member.workspaceId } },
    );
  }
}
