import * as HLS from "hls-parser";
import type { TakeSource } from "../core/media/tracks";
import type { KnownRecording } from "../server/access/facts";
import type { SignedIn } from "../server/accounts/sessions";
import type { Runtime } from "../server/runtime";
import { joinBytes, type MadeKind } from "./media";
import { feedTake } from "./server";

/** A recording with one whole take that anybody may watch. */
export async function sharedRecording(
  runtime: Runtime,
  member: SignedIn,
  source: TakeSource,
  tracks: Readonly<Record<string, MadeKind>>,
  seconds: number,
): Promise<KnownRecording> {
  const { recordingId, token } = await feedTake(runtime, member, source, tracks, seconds);
  await runtime.sharing.change(member, recordingId, { audience: "anyone" });
  return (await runtime.access.byToken(token))!;
}

/** What nobody in particular gets at a recording's link. @param base where the server is, once it is asked */
export function watching(base: () => string) {
  const get = ({ token }: KnownRecording, path: string) => fetch(`${base()}/w/${token}/${path}`);
  const bytesOf = async (recording: KnownRecording, path: string) =>
    new Uint8Array(await (await get(recording, path)).arrayBuffer());
  const playlist = async (recording: KnownRecording, path: string) =>
    HLS.parse(await (await get(recording, path)).text()) as HLS.types.MediaPlaylist;
  /** Everything that a playlist leads to, as one file, and the names of its init segments. */
  const played = async (recording: KnownRecording, path: string) => {
    const { segments } = await playlist(recording, path);
    const folder = path.slice(0, path.indexOf("/") + 1);
    const inits = [...new Set(segments.map((s) => s.map?.uri).filter((uri) => uri !== undefined))];
    const uris = [...inits, ...segments.filter((s) => !s.gap).map((s) => s.uri)];
    const parts = await Promise.all(uris.map((uri) => bytesOf(recording, folder + uri)));
    const length = segments.reduce((sum, s) => sum + s.duration, 0);
    return { file: joinBytes(...parts), inits, segments, length };
  };
  return { get, bytesOf, playlist, played };
}
