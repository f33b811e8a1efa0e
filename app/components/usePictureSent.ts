import { useState } from "react";
import type { Picture } from "#server/editing/pictures";

/** The most that is taken, as the server says it. */
const MOST_MB = 5;

/**
 * Sends a picture.
 * @param to where to
 * @param onTaken told what became of it; null where it has no name of its own
 */
export function usePictureSent(to: string, onTaken: (picture: Picture | null) => void) {
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | null>(null);
  const send = async (picture: Blob) => {
    if (picture.size > MOST_MB * 1024 * 1024) return setError(`This picture is larger than ${MOST_MB} MB.`);
    setBusy(true);
    setError(null);
    try {
      const answer = await fetch(to, { method: "POST", body: picture });
      const { error, picture: taken } = (await answer.json()) as { error: string | null; picture?: Picture | null };
      if (error) setError(error);
      else onTaken(taken ?? null);
    } catch {
      setError("There is no connection. The picture was not sent.");
    } finally {
      setBusy(false);
    }
  };
  return { send, busy, error };
}
