import { showsScreen, type TakeSource } from "#core/media/tracks";

/** What this browser lacks for recording, in words, with a way on; null when it lacks nothing. */
export function lacks(source: TakeSource, scope: typeof globalThis = globalThis): string | null {
  const nav = scope.navigator as Navigator | undefined;
  if (!scope.isSecureContext)
    return "Recording needs a secure address. Open Clear Nod by https, or on this computer by http://localhost.";
  if (!nav?.mediaDevices)
    return "This browser gives pages no camera, microphone or screen. Open this page in a browser on a desktop computer.";
  if (!("VideoEncoder" in scope) || !("AudioEncoder" in scope) || !("MediaStreamTrackProcessor" in scope)) {
    return "This browser cannot encode video while recording (WebCodecs is missing). Open this page in a current Chromium-based browser. You can watch here.";
  }
  if (showsScreen(source) && !("getDisplayMedia" in nav.mediaDevices)) {
    return "This browser cannot capture a screen, as is usual on phones. Choose Camera or Voice, or record the screen on a desktop computer.";
  }
  return null;
}
