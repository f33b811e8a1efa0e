import { SECOND, type Micros } from "../time/micros";

/**
 * How viewing is counted. Shown to people word for word by the "How is this counted" page, so that code and explanation
 * cannot part.
 * Words and thresholds follow the xAPI video profile 1.0 (from memory) where it has them: played segments, progress,
 * completion threshold.
 */
export const COMPLETION_THRESHOLD = 0.9;
/** Who has seen less than this has not watched. */
export const LEAST_VIEW: Micros = 2 * SECOND;

export const DEFINITIONS: readonly { term: string; means: string }[] = [
  {
    term: "Opened",
    means:
      "The page of the recording was opened in a browser that ran it. A preview fetched by a program does not count.",
  },
  {
    term: "Span",
    means:
      "A stretch that was really played, with its speed. Time that was paused, skipped over by seeking, or spent in a hidden page with the sound off does not count.",
  },
  {
    term: "Seen",
    means: "The part of the length that a person's spans cover, each moment once however often it was played.",
  },
  {
    term: "A view",
    means:
      "One person who watched: at least 2 seconds of the length were played. Coming back later does not make a second view.",
  },
  { term: "Finished", means: "At least 90 % of the length was seen." },
  { term: "Who was still there", means: "Of all people who watched, the share who saw this moment at least once." },
  {
    term: "Played again",
    means: "How often this moment was played beyond the first time, for each person who watched.",
  },
  {
    term: "Where people leave",
    means: "The moments after which people saw nothing more, apart from the last tenth of the length.",
  },
  { term: "You", means: "The sender's own playing is left out." },
  {
    term: "Not named",
    means:
      "People whose browser sends Do Not Track or Global Privacy Control, or who ask for it on the page, are counted and not named. Somebody who was asked by name stays under “not opened” then, until they answer.",
  },
  {
    term: "Passed on",
    means:
      "A link that was passed on to somebody who gives no name counts as an unnamed guest. One browser counts as one person. Somebody who opens a personal link in two browsers counts once in the list of people.",
  },
  { term: "Watching now", means: "Others who have the page open and in view at this moment." },
];
