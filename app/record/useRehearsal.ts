import { useEffect, useState } from "react";
import { measureVoice } from "#core/audio/loudness";
import type { TrackKind } from "#core/media/tracks";
import type { Rehearsed } from "#capture/rehearsal";

/** Speech at the loudness that is aimed at. It ships with the application. */
export const REFERENCE = "/reference.m4a";

export interface Voice {
  /** integrated, LUFS */
  loudness: number;
  /** dBTP */
  peak: number;
}

/** What a rehearsal came to: addresses to play its tracks from, and how loud the voice is, when that is known. */
export interface RehearsalView {
  addresses: Partial<Record<TrackKind, string>>;
  /** the voice of the rehearsal before it; null where there was none */
  before: string | null;
  voice: Voice | null;
  reference: Voice | null;
}

/** The last rehearsal, and the one before it. */
export interface Rehearsals {
  rehearsed: Rehearsed | null;
  before: Rehearsed | null;
}

/** Prepares a rehearsal for being looked at; its bytes are let go when another takes its place. */
export function useRehearsal({ rehearsed, before }: Rehearsals): RehearsalView | null {
  const [view, setView] = useState<RehearsalView | null>(null);
  useEffect(() => {
    if (!rehearsed) return setView(null);
    let gone = false;
    const entries = Object.entries(rehearsed) as [TrackKind, Blob][];
    const addresses = Object.fromEntries(entries.map(([kind, blob]) => [kind, URL.createObjectURL(blob)]));
    const earlier = before?.microphone ? URL.createObjectURL(before.microphone) : null;
    setView({ addresses, before: earlier, voice: null, reference: null });
    const hear = (name: "voice" | "reference", bytes: Promise<ArrayBuffer>) =>
      void bytes.then(measure).then(
        (voice) => !gone && setView((now) => now && { ...now, [name]: voice }),
        // Not measured: it can still be listened to.
        () => undefined,
      );
    if (rehearsed.microphone) hear("voice", rehearsed.microphone.arrayBuffer());
    hear(
      "reference",
      fetch(REFERENCE).then((answer) => answer.arrayBuffer()),
    );
    return () => {
      gone = true;
      for (const address of [...Object.values(addresses), earlier ?? ""]) URL.revokeObjectURL(address);
    };
  }, [rehearsed, before]);
  return view;
}

const RATE = 48_000;

async function measure(bytes: ArrayBuffer): Promise<Voice> {
  const sound = await new OfflineAudioContext(1, 1, RATE).decodeAudioData(bytes);
  return measureVoice(sound.getChannelData(0), RATE);
}
