import { useCallback, useEffect, useState } from "react";
import type { Size } from "#core/layout/layout";
import { kept } from "../kept";
import { DeviceProblem, listDevices, openCamera, openMicrophone, type Devices } from "#capture/devices";

export interface OpenDevice {
  track: MediaStreamTrack | null;
  problem: DeviceProblem | null;
  chosen: string | null;
  /** the name of the remembered device that is not there: another one is open instead */
  missed: string | null;
  choose: (deviceId: string) => void;
  retry: () => void;
}

const REMEMBERED = { camera: "clear-nod-camera", microphone: "clear-nod-microphone" };
const nameOf = (kind: keyof typeof REMEMBERED) => `${REMEMBERED[kind]}-name`;

/** Opens a device while it is wanted, keeps the choice for next time, and comes back after unplugging when asked. */
function useDevice(kind: "camera" | "microphone", wanted: boolean, onOpened: () => void): OpenDevice {
  const [chosen, setChosen] = useState<string | null>(null);
  const [attempt, setAttempt] = useState(0);
  const [track, setTrack] = useState<MediaStreamTrack | null>(null);
  const [missed, setMissed] = useState<string | null>(null);
  const [problem, setProblem] = useState<DeviceProblem | null>(null);

  useEffect(() => setChosen(kept.get(REMEMBERED[kind])), [kind]);
  useEffect(() => {
    if (!wanted) return;
    let gone = false;
    let opened: MediaStreamTrack | null = null;
    setProblem(null);
    setMissed(null);
    const open = kind === "camera" ? openCamera : openMicrophone;
    // A remembered device may have been unplugged for good: then any other will do, and the person is told.
    open(chosen)
      .catch((error: unknown) =>
        chosen && error instanceof DeviceProblem && error.reason === "missing" ? open(null) : Promise.reject(error),
      )
      .then((got) => {
        opened = got;
        if (gone) return got.stop();
        if (chosen && got.getSettings().deviceId !== chosen)
          setMissed(kept.get(nameOf(kind)) ?? `The ${kind} that was chosen before`);
        else if (chosen) kept.set(nameOf(kind), got.label);
        got.addEventListener("ended", () =>
          setProblem(
            new DeviceProblem(
              kind,
              "missing",
              `The ${kind} was unplugged. Plug it in and press Try again, or choose another.`,
            ),
          ),
        );
        setTrack(got);
        onOpened();
      })
      .catch((error: unknown) => {
        if (!gone) setProblem(error instanceof DeviceProblem ? error : new DeviceProblem(kind, "other", String(error)));
      });
    return () => {
      gone = true;
      opened?.stop();
      setTrack(null);
    };
  }, [kind, wanted, chosen, attempt, onOpened]);

  return {
    track,
    problem: wanted ? problem : null,
    missed: wanted && !problem ? missed : null,
    chosen: track?.getSettings().deviceId ?? chosen,
    choose: (deviceId) => {
      kept.set(REMEMBERED[kind], deviceId);
      setChosen(deviceId);
    },
    retry: () => setAttempt((n) => n + 1),
  };
}

/** @param picture how large and fast the camera's picture is to be */
export function useDevices(wants: { camera: boolean; microphone: boolean; picture: Size & { rate: number } }) {
  const [devices, setDevices] = useState<Devices>({ cameras: [], microphones: [] });
  // Names are told only once a device has been allowed.
  const refresh = useCallback(() => void listDevices().then(setDevices, () => undefined), []);
  useEffect(() => {
    navigator.mediaDevices?.addEventListener("devicechange", refresh);
    return () => navigator.mediaDevices?.removeEventListener("devicechange", refresh);
  }, [refresh]);
  const camera = useDevice("camera", wants.camera, refresh);
  const { width, height, rate } = wants.picture;
  useEffect(() => {
    const wish = { width: { ideal: width }, height: { ideal: height }, frameRate: { ideal: rate } };
    // A camera that cannot, or is gone, goes on as it is; that it is gone is told elsewhere.
    camera.track?.applyConstraints(wish).catch(() => undefined);
  }, [camera.track, width, height, rate]);
  return {
    devices,
    camera,
    microphone: useDevice("microphone", wants.microphone, refresh),
  };
}
