import type { Size } from "#core/layout/layout";
import type { PersonRow } from "#server/answers/people";
import type { SharedAs } from "#server/sharing/sharing";

/** A recording of one's own, and who may open it. */
export interface Shared {
  id: string;
  token: string;
  /** the whole address */
  link: string;
  title: string;
  /** the shape of its picture; null for sound alone, or while nothing has come */
  frame: Size | null;
  hasCaptions: boolean;
  workspace: string;
  as: SharedAs;
  people: readonly PersonRow[];
  /** is there anything that carries mail? */
  mails: boolean;
}

/** One part of the sentence, as it is to be; as a form sends it. */
export type ShareChange = Partial<
  Record<"audience" | "opensAt" | "endsAt" | "password" | "comments" | "downloads" | "asksNames", string>
>;
