import { useEffect, useRef, useState } from "react";
import { useFetcher } from "react-router";
import { lastOf } from "#core/audio/suppressing";
import type { Look, Pictures } from "#server/editing/look";
import { useAskAgain } from "../components/useAskAgain";
import type { loader } from "../routes/looks";

/** What is there of a take's sounds and pictures. */
export interface TakeLook {
  position: number;
  voice: Int8Array | null;
  sound: Int8Array | null;
  strip: { image: HTMLImageElement; pictures: Pictures } | null;
}

const AGAIN_MS = 1_500;

/**
 * What the takes look and sound like, as far as it is there: the page is whole without, and fills in as it comes.
 * @param wantsSuppression the voices are wanted without the noise around them
 * @param onSuppressed called when they have come
 */
export function useLooks(
  id: string,
  first: readonly Look[],
  wantsSuppression: boolean,
  onSuppressed: () => Promise<void>,
) {
  const asked = useFetcher<typeof loader>();
  const { data } = asked;
  const [looks, setLooks] = useState<readonly TakeLook[]>([]);
  const known = data?.looks ?? first;
  const made = known.filter((look) => look.made);
  const coming = made.length < known.length;
  const suppression = wantsSuppression ? lastOf(made.flatMap((look) => (look.hasVoice ? look.suppressed : []))) : null;
  useAskAgain(asked, `/recordings/${id}/looks`, coming || suppression === "wanted", AGAIN_MS);
  // What is played has another track then.
  const came = useRef(suppression === "made");
  const [there, setThere] = useState(came.current);
  useEffect(() => {
    if (suppression !== "made" || came.current) return;
    came.current = true;
    void onSuppressed().then(() => setThere(true));
  }, [suppression, onSuppressed]);
  const names = made.map((look) => look.position).join();
  useEffect(() => {
    const left = new AbortController();
    for (const look of made) {
      void bring(id, look, left.signal).then((brought) => {
        if (brought && !left.signal.aborted)
          setLooks((all) => [...all.filter((l) => l.position !== brought.position), brought]);
      });
    }
    return () => left.abort();
    // The looks of the same takes never change.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id, names]);
  return { looks, known, coming, suppression: suppression === "made" && !there ? "wanted" : suppression };
}

/** @returns null where it could not be brought; it is tried again with the next visit */
async function bring(id: string, look: Look, signal: AbortSignal): Promise<TakeLook | null> {
  const { position, hasVoice, hasSound, pictures } = look;
  const base = `/recordings/${id}/looks/${position}`;
  const levels = async (what: string) => {
    const answer = await fetch(`${base}/${what}`, { signal });
    return answer.ok ? new Int8Array(await answer.arrayBuffer()) : null;
  };
  try {
    const voice = hasVoice ? await levels("voice") : null;
    const sound = hasSound ? await levels("sound") : null;
    const strip = pictures && { image: await picture(`${base}/strip`), pictures };
    return { position, voice, sound, strip };
  } catch {
    return null;
  }
}

async function picture(url: string): Promise<HTMLImageElement> {
  const image = new Image();
  image.src = url;
  await image.decode();
  return image;
}
