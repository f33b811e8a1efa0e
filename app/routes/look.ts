import { data } from "react-router";
import { appContext } from "../services/context.server";
import { ownRecording } from "../services/guard.server";
import type { Route } from "./+types/look";

const TYPES = { voice: "application/octet-stream", sound: "application/octet-stream", strip: "image/jpeg" } as const;
const isWhat = (text: string): text is keyof typeof TYPES => Object.hasOwn(TYPES, text);

/** The levels of a take's voice or sound, or its small pictures, for its owner. They never change. */
export async function loader({ context, params: { id, position, what } }: Route.LoaderArgs) {
  const { runtime, recording } = await ownRecording(context.get(appContext), id);
  const bytes =
    isWhat(what) && /^\d{1,3}$/.test(position) ? await runtime.looks.bytes(recording.id, Number(position), what) : null;
  if (!bytes) throw data({ error: "There is nothing here that you can open." }, { status: 404 });
  const headers = { "content-type": TYPES[what as keyof typeof TYPES], "cache-control": "private, max-age=3600" };
  return new Response(new Uint8Array(bytes), { headers });
}
