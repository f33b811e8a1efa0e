import type { Given, ReactionKind } from "#core/answers/kinds";
import type { Micros } from "#core/time/micros";
import type { KnownRecording } from "../access/facts";
import { Problem } from "../http/problem";
import type { Asks } from "./asks";
import type { Comments } from "./comments";
import type { DeedLimits, Limited } from "../deed-limits";
import type { Reactions } from "./reactions";
import type { Viewers, Who } from "./viewers";

/** What a page of a recording sends, as `sayForm` lets it through. */
export type Said =
  | { do: "name"; name: string }
  | { do: "comment"; id: string; body: string; at: Micros; until: Micros | null; revision?: number | null }
  | { do: "reply"; id: string; to: string; body: string }
  | { do: "edit"; id: string; body: string; version: number }
  | { do: "remove"; id: string }
  | { do: "settle"; id: string; settled: boolean }
  | { do: "react"; kind: ReactionKind; at: Micros; revision?: number | null }
  | { do: "unreact"; id: string }
  | ({ do: "answer"; revision?: number | null } & Given);

const LIMIT: Record<Said["do"], Limited> = {
  name: "name",
  comment: "comment",
  reply: "comment",
  edit: "comment",
  remove: "comment",
  settle: "comment",
  react: "reaction",
  unreact: "reaction",
  answer: "answer",
};

/** What takes the deed `comment`; the rest is open to whoever may answer. */
const WRITES = new Set<Said["do"]>(["comment", "reply", "edit"]);

/** Everything that a viewer can say, by one door: who it is, how often, and then what. */
export class Sayings {
  constructor(
    private readonly parts: {
      viewers: Viewers;
      comments: Comments;
      reactions: Reactions;
      asks: Asks;
      limits: DeedLimits;
    },
  ) {}

  /** @returns the id of what was made, if anything was. Who may watch is checked before. */
  async say(recording: KnownRecording, who: Who, said: Said): Promise<{ id: string | null }> {
    const { viewers, comments, reactions, asks, limits } = this.parts;
    const viewer = await viewers.find(recording, who);
    if (!viewer) throw new Problem(409, "not-opened", "Open the recording's page in this browser first.");
    await limits.take(LIMIT[said.do], { viewer: viewer.id, address: who.address });
    if (WRITES.has(said.do) && !viewer.mayComment)
      throw new Problem(403, "no-comments", "No comments are taken here. Your words are still in the field.");
    switch (said.do) {
      case "name":
        if (viewer.isMember)
          throw new Problem(409, "member", "You are signed in; your name is the one of your account.");
        await viewers.nameGuest(who.guestKey, said.name);
        return { id: null };
      case "comment":
        return { id: await comments.add(recording.id, viewer, said) };
      case "reply":
        return { id: await comments.reply(recording.id, viewer, said) };
      case "edit":
        await comments.edit(recording.id, viewer, said);
        return { id: said.id };
      case "remove":
        await comments.remove(recording.id, viewer, said);
        return { id: null };
      case "settle":
        await comments.settle(recording.id, viewer, said);
        return { id: said.id };
      case "react":
        return { id: await reactions.add(recording.id, viewer, said) };
      case "unreact":
        await reactions.remove(recording.id, viewer, said);
        return { id: null };
      case "answer":
        await asks.answer(recording.id, viewer, said);
        return { id: null };
    }
  }
}
