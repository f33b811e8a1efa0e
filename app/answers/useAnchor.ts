import { useCallback, useEffect, useState } from "react";
import { placesNow } from "../player/moved";
import type { DraftAnchor } from "./Composer";

/**
 * Where a comment that is being written belongs. When something else is published meanwhile, it goes with its moment.
 * @param revision that the page shows
 */
export function useAnchor(
  token: string,
  revision: number | null,
): [DraftAnchor | null, (anchor: DraftAnchor | null) => void] {
  const [anchor, setAnchor] = useState<DraftAnchor | null>(null);
  const put = useCallback(
    (next: DraftAnchor | null) => setAnchor(next && { ...next, revision: next.revision ?? revision }),
    [revision],
  );
  useEffect(() => {
    const before = anchor?.revision;
    if (!before || revision === null || before === revision) return;
    let left = false;
    void placesNow(token, before, anchor.until === null ? [anchor.at] : [anchor.at, anchor.until]).then(
      ([at = anchor.at, until = null]) => {
        if (!left) setAnchor({ at, until: until !== null && until > at ? until : null, revision });
      },
    );
    return () => {
      left = true;
    };
  }, [token, revision, anchor]);
  return [anchor, put];
}
