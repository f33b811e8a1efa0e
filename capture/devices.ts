/** A device did not open, in words, with a way on. */
export class DeviceProblem extends Error {
  constructor(
    readonly device: "camera" | "microphone" | "screen",
    readonly reason: "refused" | "missing" | "busy" | "other",
    message: string,
  ) {
    super(message);
  }
}

/** Names of the exceptions of Media Capture and Streams (W3C), 10.2 and 5.1 of Screen Capture. */
export function explain(device: "camera" | "microphone" | "screen", error: unknown): DeviceProblem {
  const name = (error as DOMException).name;
  if (device === "screen") {
    if (name === "NotAllowedError")
      return new DeviceProblem(
        device,
        "refused",
        "Nothing was chosen to be shown, so nothing is recorded. Choose a screen, a window or a tab to go on.",
      );
    return new DeviceProblem(
      device,
      "other",
      "The screen could not be captured. Check that the system lets this browser record the screen, then try again.",
    );
  }
  if (name === "NotAllowedError" || name === "SecurityError") {
    return new DeviceProblem(
      device,
      "refused",
      `The browser may not use the ${device}. Allow it in the address bar's site settings, then press Try again, or go on without.`,
    );
  }
  if (name === "NotFoundError" || name === "OverconstrainedError") {
    return new DeviceProblem(
      device,
      "missing",
      `No ${device} was found. Plug one in and press Try again, choose another, or go on without.`,
    );
  }
  if (name === "NotReadableError" || name === "AbortError") {
    return new DeviceProblem(
      device,
      "busy",
      `The ${device} is in use by another program. Close that program and press Try again, or choose another ${device}.`,
    );
  }
  return new DeviceProblem(
    device,
    "other",
    `The ${device} did not start (${name}). Press Try again, or choose another.`,
  );
}

/** @throws {DeviceProblem} */
export async function openCamera(deviceId: string | null): Promise<MediaStreamTrack> {
  return open("camera", {
    video: { width: { ideal: 640 }, height: { ideal: 480 }, frameRate: { ideal: 30 }, ...only(deviceId) },
  });
}

/** @throws {DeviceProblem} */
export async function openMicrophone(deviceId: string | null): Promise<MediaStreamTrack> {
  return open("microphone", {
    audio: {
      echoCancellation: true,
      noiseSuppression: true,
      autoGainControl: true,
      channelCount: 1,
      ...only(deviceId),
    },
  });
}

/** A surface that was chosen, and its sound where there is any. */
export interface SharedScreen {
  screen: MediaStreamTrack;
  sound: MediaStreamTrack | null;
}

/**
 * Asks for a screen, window or tab, with its sound when the person and the system give it.
 * @param rate pictures a second at the most: a surface that delivers more costs more, whatever is made of them
 * @throws {DeviceProblem}
 */
export async function openScreen(rate: number): Promise<SharedScreen> {
  const ask = (audio: boolean) =>
    navigator.mediaDevices.getDisplayMedia({
      // In its own pixels: how finely it is recorded is decided afterwards. A size that were asked for here would be
      // told as its own until the first frame comes.
      video: { frameRate: { ideal: rate, max: rate } },
      audio: audio && { echoCancellation: false, noiseSuppression: false, autoGainControl: false },
      // Ours is the page that must not be recorded by mistake; the system's sound is offered.
      ...({ selfBrowserSurface: "exclude", systemAudio: "include", surfaceSwitching: "include" } as object),
    });
  try {
    // A system without a sound source refuses the whole capture: then the picture alone.
    const stream = await ask(true).catch((error: DOMException) =>
      error.name === "NotReadableError" ? ask(false) : Promise.reject(error),
    );
    const screen = stream.getVideoTracks()[0]!;
    return { screen, sound: stream.getAudioTracks()[0] ?? null };
  } catch (error) {
    throw explain("screen", error);
  }
}

export interface Devices {
  cameras: MediaDeviceInfo[];
  microphones: MediaDeviceInfo[];
}

export async function listDevices(): Promise<Devices> {
  const all = await navigator.mediaDevices.enumerateDevices();
  const of = (kind: MediaDeviceKind) => all.filter((d) => d.kind === kind && d.deviceId !== "");
  return { cameras: of("videoinput"), microphones: of("audioinput") };
}

async function open(device: "camera" | "microphone", constraints: MediaStreamConstraints): Promise<MediaStreamTrack> {
  try {
    return (await navigator.mediaDevices.getUserMedia(constraints)).getTracks()[0]!;
  } catch (error) {
    throw explain(device, error);
  }
}

const only = (deviceId: string | null) => (deviceId ? { deviceId: { exact: deviceId } } : {});
