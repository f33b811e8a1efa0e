import { useCallback, useEffect, useState } from "react";
import type { Recorder } from "#capture/recorder";
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

/** Keeps the devices of a take, whatever page is shown. */
type Holder = Pick<Recorder, "takeOver" | "giveOver">;

/** Opens a device while it is wanted, keeps the choice for next time, and comes back after unplugging when asked. */
function useDevice(recorder: Holder, kind: "camera" | "microphone", wanted: boolean, onOpened: () => void): OpenDevice {
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
    const letGo = (track: MediaStreamTrack) => recorder.giveOver(kind, track) || track.stop();
    setProblem(null);
    setMissed(null);
    // A page that comes back to a take goes on with its devices.
    const open = async (id: string | null) =>
      recorder.takeOver(kind, id) ?? (kind === "camera" ? openCamera(id) : openMicrophone(id));
    // A remembered device may have been unplugged for good: then any other will do, and the person is told.
    open(chosen)
      .catch((error: unknown) =>
        chosen && error instanceof DeviceProblem && error.reason === "missing" ? open(null) : Promise.reject(error),
      )
      .then((got) => {
        opened = got;
        if (gone) return letGo(got);
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
      if (opened) letGo(opened);
      setTrack(null);
    };
  }, [recorder, kind, wanted, chosen, attempt, onOpened]);

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
export function useDevices(
  recorder: Holder,
  wants: { camera: boolean; microphone: boolean; picture: Size & { rate: number } },
) {
  const [devices, setDevices] = useState<Devices>({ cameras: [], microphones: [] });
  // Names are told only once a device has been allowed.
  const refresh = useCallback(() => void listDevices().then(setDevices, () => undefined), []);
  useEffect(() => {
    navigator.mediaDevices?.addEventListener("devicechange", refresh);
    return () => navigator.mediaDevices?.removeEventListener("devicechange", refresh);
  }, [refresh]);
  const camera = useDevice(recorder, "camera", wants.camera, refresh);
  const { width, height, rate } = wants.picture;
  useEffect(() => {
    const wish = { width: { ideal: width }, height: { ideal: height }, frameRate: { ideal: rate } };
    // A camera that cannot, or is gone, goes on as it is; that it is gone is told elsewhere.
    camera.track?.applyConstraints(wish).catch(() => undefined);
  }, [camera.track, width, height, rate]);
  return {
    devices,
    camera,
    microphone: useDevice(recorder, "microphone", wants.microphone, refresh),
  };
}
