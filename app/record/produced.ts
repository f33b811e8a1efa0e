import { useEffect, useState } from "react";
import type { RecorderState } from "#capture/recorder-state";
import { bytesAMinute, learnt } from "#core/media/rates";
import type { Quality } from "#core/media/quality";
import type { TakeSource, TrackKind } from "#core/media/tracks";
import { kept } from "../kept";

const PRODUCED = "clear-nod-produced";
type Shares = Partial<Record<TakeSource, number>>;

/** What a minute of these tracks takes, from what recordings on this computer really took. */
export function useProduced(made: RecorderState["made"], source: TakeSource, kinds: readonly TrackKind[]) {
  const [shares, setShares] = useState(readShares);
  useEffect(() => {
    if (!made) return;
    const before = readShares();
    const next = { ...before, [made.source]: learnt(before[made.source] ?? 1, made) };
    kept.write(PRODUCED, next);
    setShares(next);
  }, [made]);
  const share = shares[source] ?? 1;
  return { minuteOf: (quality: Quality) => share * bytesAMinute(kinds, quality), isLearnt: share < 1 };
}

function readShares(): Shares {
  const entries = Object.entries(kept.read(PRODUCED) ?? {});
  return Object.fromEntries(entries.filter(([, share]) => typeof share === "number" && share > 0)) as Shares;
}
