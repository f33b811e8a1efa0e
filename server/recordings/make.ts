import { randomUUID } from "node:crypto";
import { nanoid } from "nanoid";
import type { Transaction } from "sequelize";
import type { Audience } from "#core/access/access";
import type { NewAsk } from "#core/answers/kinds";
import type { TakeSource } from "#core/media/tracks";
import type { SignedIn } from "../accounts/sessions";
import { writeAsk } from "../answers/asks";
import type { Database } from "../database/connection";

export interface NewRecording {
  title: string;
  audience: Audience;
  /** where it lies */
  folderId?: string | null;
  ask?: NewAsk | null;
  description?: string;
  tags?: string[];
}

/** Makes a recording with its link and what is asked. It shows nothing before it has a take. */
export async function makeRecording(
  db: Database,
  member: SignedIn,
  { title, audience, folderId, ask, description, tags }: NewRecording,
  transaction: Transaction,
): Promise<{ recordingId: string; token: string; title: string }> {
  const recording = await db.models.Recording.create(
    {
      id: randomUUID(),
      workspaceId: member.workspaceId,
      ownerId: member.id,
      title,
      audience,
      folderId,
      description,
      tags,
      // 22 characters of 64: 132 random bits
      token: nanoid(22),
    },
    { transaction },
  );
  if (ask) await writeAsk(db, recording.id, ask, transaction);
  return { recordingId: recording.id, token: recording.token, title: recording.title };
}

/** Adds an open take to a recording. @returns its id, which a recorder may have given it */
export async function addTake(
  db: Database,
  take: { id?: string; recordingId: string; position: number; source: TakeSource },
  transaction: Transaction,
): Promise<string> {
  const { id } = await db.models.Take.create({ ...take, id: take.id ?? randomUUID() }, { transaction });
  return id;
}
