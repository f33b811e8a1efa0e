import { randomUUID } from "node:crypto";
import { gridAfter } from "../core/recipe/frames";
import { act, begun, shownBy, type History } from "../core/recipe/history";
import type { Range } from "../core/time/ranges";
import { connect } from "../testing/seeds";
import { feed, finish, type Rig } from "./rig";

export const HOUR_TRACKS = { screen: "screen-1080", camera: "camera-480", microphone: "aac" } as const;
export const HOUR_MINUTES = 60;

/** A recording of an hour that its member works on. */
export interface AnHour {
  token: string;
  recordingId: string;
  /** all of its take */
  take: Range;
  /** @throws where it is not taken @returns the answer of the server, as JSON */
  post(path: string, deed: Record<string, string>): Promise<{ version?: number | null }>;
}

/** Makes a whole take of an hour: screen, camera and voice. */
export async function anHour(rig: Rig): Promise<AnHour> {
  const { takeId, token, recordingId } = await rig.start("screen-camera");
  await finish(rig, takeId, await feed(rig, takeId, HOUR_TRACKS, HOUR_MINUTES * 60));
  const db = await connect(rig.databaseUrl);
  const { rows } = await db.query<{ length: string }>("select duration_us as length from takes where id = $1", [
    takeId,
  ]);
  await db.end();
  const by = randomUUID();
  const post = async (path: string, deed: Record<string, string>) => {
    const headers = { cookie: rig.cookie, origin: rig.base };
    // As the window that saves.
    const body = new URLSearchParams({ ...deed, ...(deed.do === "save" && { by }) });
    const answer = await fetch(`${rig.base}/recordings/${recordingId}${path}`, { method: "POST", body, headers });
    if (!answer.ok) throw new Error(`not taken: ${answer.status} ${await answer.text()}`);
    return (await answer.json()) as { version?: number | null };
  };
  return { token, recordingId, take: { from: 0, to: gridAfter(Number(rows[0]!.length)) }, post };
}

/** An edit of all of it that leaves out these stretches, in seconds. */
export const without = ({ take }: AnHour, cuts: readonly (readonly [from: number, to: number])[]): History =>
  cuts.reduce(
    (so, [from, to]) =>
      act(so, shownBy(so), { do: "leave-out", from: micros(from), to: Math.min(take.to, micros(to)) }, [take]),
    begun({ kept: [take], dress: {} }),
  );

const micros = (seconds: number) => Math.round(seconds * 1e6);
