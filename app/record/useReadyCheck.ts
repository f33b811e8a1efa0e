import { useEffect, useMemo, useState } from "react";
import { FaceCheck } from "#capture/check/face-check";
import { PictureCheck, type PictureFigures } from "#capture/check/picture-check";
import { measureUpload } from "#capture/check/upload";
import type { LevelMeter } from "#capture/level-meter";
import { faceLines, type FaceFigures } from "#core/check/face";
import type { SoundFigures } from "#core/check/sound";
import { lightLine, rateLine, soundLines, spaceLine, uploadLine, type CheckLine } from "#core/check/verdicts";
import { bitsASecond, bytesAMinute } from "#core/media/rates";
import { rateOf, type Quality } from "#core/media/quality";
import type { TrackKind } from "#core/media/tracks";

interface Checked {
  /** it is being got ready: nothing is measured while recording */
  wanted: boolean;
  meter: LevelMeter | null;
  camera: MediaStreamTrack | null;
  /** what will be recorded */
  kinds: readonly TrackKind[];
  quality: Quality;
  /** bytes that this browser may still keep; null where it does not tell */
  free: number | null;
  /** somebody looks at the lines: what costs much is measured as well */
  opened: boolean;
}

const SPACE_MS = 30_000;

/** The lines of the ready check, measured while they are looked at. */
export function useReadyCheck({ wanted, meter, camera, kinds, quality, free, opened }: Checked): CheckLine[] {
  const [sound, setSound] = useState<SoundFigures | null>(null);
  const [deaf, setDeaf] = useState(false);
  const [picture, setPicture] = useState<PictureFigures | null>(null);
  const [looking, setLooking] = useState<PictureCheck | null>(null);
  const [face, setFace] = useState<FaceFigures | "unknown" | null>(null);
  const sending = useSending();

  useEffect(() => {
    if (!wanted || !meter) return;
    setDeaf(false);
    const end = meter.measure(setSound, () => setDeaf(true));
    return () => {
      end();
      setSound(null);
    };
  }, [wanted, meter]);
  useEffect(() => {
    if (!wanted || !camera) return;
    const check = new PictureCheck(camera, setPicture);
    setLooking(check);
    return () => {
      check.close();
      setLooking(null);
      setPicture(null);
    };
  }, [wanted, camera]);

  useEffect(() => {
    if (!looking || !opened) return;
    const check = new FaceCheck(looking.video, (figures) => setFace(figures ?? "unknown"));
    return () => {
      check.close();
      setFace(null);
    };
  }, [looking, opened]);

  return useMemo(() => {
    const lines: CheckLine[] = [];
    if (meter && deaf) lines.push({ name: "Voice", value: "not measured here", verdict: "waiting", mend: null });
    else if (meter) lines.push(...soundLines(sound));
    // What a browser does not tell is no line: nobody could mend it.
    if (camera) lines.push(lightLine(picture?.light ?? null));
    if (camera && opened && face !== "unknown") lines.push(...faceLines(face));
    if (picture && picture.rate !== null) lines.push(rateLine(picture.rate, rateOf("camera", quality)));
    if (sending !== null) lines.push(uploadLine(sending, bitsASecond(kinds, quality)));
    if (free !== null) lines.push(spaceLine(free, bytesAMinute(kinds, quality)));
    return lines;
  }, [meter, deaf, sound, camera, opened, face, picture, sending, free, kinds, quality]);
}

/** Bits a second to the server, tried when the page opens and when the network changes; null while not known. */
function useSending(): number | null {
  const [rate, setRate] = useState<number | null>(null);
  useEffect(() => {
    let trying: AbortController;
    const look = () => {
      trying?.abort();
      const { signal } = (trying = new AbortController());
      measureUpload(signal).then(setRate, () => signal.aborted || setRate(null));
    };
    look();
    for (const name of ["online", "offline"]) window.addEventListener(name, look);
    return () => {
      for (const name of ["online", "offline"]) window.removeEventListener(name, look);
      trying.abort();
    };
  }, []);
  return rate;
}

/** Bytes that this browser may still keep; null while, and where, it does not tell. */
export function useFreeSpace(wanted: boolean): number | null {
  const [free, setFree] = useState<number | null>(null);
  useEffect(() => {
    if (!wanted) return;
    let gone = false;
    const look = () =>
      void navigator.storage?.estimate().then(
        ({ quota, usage }) => !gone && setFree(quota === undefined ? null : quota - (usage ?? 0)),
        () => !gone && setFree(null),
      );
    look();
    const timer = setInterval(look, SPACE_MS);
    return () => {
      gone = true;
      clearInterval(timer);
    };
  }, [wanted]);
  return free;
}
