import { toSeconds, type Micros } from "../time/micros";
import { COMPLETION_THRESHOLD } from "./definitions";
import { viewerFigures, seenBy } from "./figures";
import type { Folded } from "./fold";

const VERB = {
  initialized: "http://adlnet.gov/expapi/verbs/initialized",
  terminated: "http://adlnet.gov/expapi/verbs/terminated",
  completed: "http://adlnet.gov/expapi/verbs/completed",
};
const VIDEO = "https://w3id.org/xapi/video";
const ext = (name: string) => `${VIDEO}/extensions/${name}`;

/** One viewer, as statements name them. */
export interface Learner {
  number: number;
  /** null when they gave none, or asked not to be named */
  name: string | null;
  /** an id that means nothing elsewhere */
  account: string;
  firstOpenedAt: string;
  lastOpenedAt: string;
}

export interface Activity {
  /** the address of the recording */
  url: string;
  title: string;
  length: Micros;
}

/** `0[.]12.5[,]14[.]21`: the played segments of the video profile, in seconds. */
export const playedSegments = (seen: readonly { from: Micros; to: Micros }[]) =>
  seen.map((s) => `${toSeconds(s.from)}[.]${toSeconds(s.to)}`).join("[,]");

/**
 * What one viewer has watched, as xAPI statements: opened, left, and completed where it was. `id` makes the statements'
 * ids, from a word each.
 * Source: xAPI 1.0.3 and the xAPI Video Profile 1.0.3 (both from memory): verbs, required extensions of context and
 * result.
 */
export function viewingStatements(learner: Learner, activity: Activity, folded: Folded, id: (word: string) => string) {
  const figures = viewerFigures(folded, learner.number, activity.length);
  const progress = Math.round(figures.share * 1000) / 1000;
  const context = {
    contextActivities: {
      category: [{ id: VIDEO, definition: { type: "http://adlnet.gov/expapi/activities/profile" } }],
    },
    extensions: {
      [ext("session-id")]: id("session"),
      [ext("length")]: toSeconds(activity.length),
      [ext("completion-threshold")]: COMPLETION_THRESHOLD,
    },
  };
  const statement = (verb: keyof typeof VERB, timestamp: string, result?: object) => ({
    id: id(verb),
    actor: {
      objectType: "Agent",
      ...(learner.name && { name: learner.name }),
      account: { homePage: new URL(activity.url).origin, name: learner.account },
    },
    verb: { id: VERB[verb], display: { "en-US": verb } },
    object: {
      objectType: "Activity",
      id: activity.url,
      definition: { type: `${VIDEO}/activity-type/video`, name: { "en-US": activity.title } },
    },
    ...(result && { result }),
    context,
    timestamp,
  });
  const played = {
    [ext("time")]: toSeconds(figures.lastSeen),
    [ext("progress")]: progress,
    [ext("played-segments")]: playedSegments(seenBy(folded, learner.number)),
  };
  return [
    statement("initialized", learner.firstOpenedAt),
    statement("terminated", learner.lastOpenedAt, { extensions: played }),
    ...(figures.finished
      ? [
          statement("completed", learner.lastOpenedAt, {
            completion: true,
            duration: `PT${toSeconds(figures.covered)}S`,
            extensions: played,
          }),
        ]
      : []),
  ];
}
