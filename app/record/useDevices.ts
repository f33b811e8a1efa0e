import { useCallback, useEffect, useState, useSyncExternalStore } from "react";
import type { Recorder } from "#capture/recorder";
import type { Size } from "#core/layout/layout";
import { isClear, type Lens } from "#core/layout/lens";
import { canUseLens, LensTrack, type LensState } from "#capture/lens/lens-track";
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
    // What is recorded is what is seen through its lens, where it has one.
    const letGo = (track: MediaStreamTrack) => {
      const seen = LensTrack.of(track)?.track ?? track;
      return recorder.giveOver(kind, seen) || seen.stop();
    };
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

/** A camera as it is seen through a lens; the camera itself where the lens has never changed anything. */
function useLens(camera: MediaStreamTrack | null, lens: Lens): LensTrack | null {
  const [made, setMade] = useState<LensTrack | null>(null);
  useEffect(() => {
    // A page that comes back to a take finds the lens before its camera.
    const there = LensTrack.of(camera);
    if (there) there.tune(lens);
    setMade(there ?? (camera && !isClear(lens) && canUseLens() ? new LensTrack(camera, lens) : null));
  }, [camera, lens]);
  // Of another camera: it is gone with that.
  return made && LensTrack.of(camera) === made ? made : null;
}

const NO_LENS: LensState = { cost: null, person: "not yet" };
const none = () => () => undefined;

/** @param picture how large and fast the camera's picture is to be */
export function useDevices(
  recorder: Holder,
  wants: { camera: boolean; microphone: boolean; picture: Size & { rate: number }; lens: Lens },
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
  const lens = useLens(camera.track, wants.lens);
  const lensState = useSyncExternalStore(
    lens?.subscribe ?? none,
    () => lens?.snapshot() ?? NO_LENS,
    () => NO_LENS,
  );
  // Until its lens is there, what was to be hidden is not shown.
  const unseen = !lens && camera.track && !isClear(wants.lens) && canUseLens();
  return {
    devices,
    camera: { ...camera, track: unseen ? null : (lens?.track ?? camera.track) },
    lens: lensState,
    microphone: useDevice(recorder, "microphone", wants.microphone, refresh),
  };
}
