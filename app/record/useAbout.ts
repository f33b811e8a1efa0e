import { useState } from "react";
import type { KeptTake } from "#capture/outbox/store";
import type { About } from "#core/title/about";
import { tidyTitle } from "#core/title/title";
import { theOutbox } from "./outbox";

/** What a recording is about, as it is being written. */
export interface Written extends About {
  /** empty: one is proposed */
  title: string;
}

export interface AboutDraft {
  about: Written;
  write: (about: Written) => void;
  /** the take has these from the start */
  begun: (about: Written) => void;
  /** brings what was changed since to the recording that is being made; nothing before there is one */
  keep: () => void;
  /** why the last of it was not kept */
  problem: string | null;
}

const NOTHING: Written = { title: "", description: "", tags: [] };
/** Of the take of this tab: a page that comes back to it goes on with it. `there` is what its recording has. */
const ofTake = { about: NOTHING, there: NOTHING, version: 1 };

/** The title, description and tags of the next recording, or of the one that is made. @param take while it runs */
export function useAbout(take: KeptTake | null): AboutDraft {
  const [about, setAbout] = useState<Written>(() => (take ? ofTake.about : NOTHING));
  const [problem, setProblem] = useState<string | null>(null);

  const keep = async () => {
    if (!take) return;
    const before = ofTake.there;
    const title = tidyTitle(about.title);
    const { description, tags } = about;
    ofTake.there = about;
    setProblem(null);
    const deeds: Record<string, string>[] = [];
    if (title && title !== tidyTitle(before.title))
      deeds.push({ do: "rename", title, version: String(ofTake.version++) });
    if (description !== before.description || tags.join("\n") !== before.tags.join("\n"))
      deeds.push({
        do: "describe",
        description,
        tags: JSON.stringify(tags),
        before: JSON.stringify({ description: before.description, tags: before.tags }),
      });
    // Until the server knows of it, it is told with the take itself.
    if (
      deeds.length > 0 &&
      (await theOutbox().describe(take.takeId, { title: title || take.title, description, tags }))
    )
      return;
    for (const deed of deeds) {
      const refused = await send(take.registered?.recordingId ?? take.start.recording!, deed);
      if (!refused) continue;
      // Tried again with the next change.
      ofTake.there = before;
      if (deed.do === "rename") ofTake.version--;
      setProblem(refused);
    }
  };
  return {
    about,
    write: (next) => {
      ofTake.about = next;
      setAbout(next);
    },
    begun: (first) => void Object.assign(ofTake, { about: first, there: first, version: 1 }),
    keep: () => void keep(),
    problem,
  };
}

/**
 * Not by the router: what it loads again after every deed would cross the opening of the recording's page after Stop.
 * @returns why it was not kept; null when it was
 */
async function send(recordingId: string, deed: Record<string, string>): Promise<string | null> {
  try {
    const answer = await fetch(`/recordings/${recordingId}`, { method: "POST", body: new URLSearchParams(deed) });
    const { error } = (await answer.json().catch(() => ({}))) as { error?: string | null };
    return answer.ok ? null : (error ?? "The server did not take it. Change it once more.");
  } catch {
    return "The server cannot be reached. Change it once more when it can.";
  }
}
