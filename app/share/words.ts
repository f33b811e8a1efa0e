import type { SharedAs } from "#server/sharing/sharing";
import type { ToldAudience } from "#core/access/sentence";

/** What the server tells of who may open a recording, as the sentence takes it. */
export const toTold = (as: SharedAs): ToldAudience => ({
  ...as,
  opensAt: as.opensAt === null ? null : Date.parse(as.opensAt),
  endsAt: as.endsAt === null ? null : Date.parse(as.endsAt),
});
