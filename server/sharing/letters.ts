import type { Letter } from "#core/mail/letter";
import { spokenLength, type Micros } from "#core/time/micros";
import { knownZone } from "../http/fields";

/** What a letter about a recording says of it. */
export interface AboutRecording {
  title: string;
  durationUs: Micros;
  endsAt: Date | null;
  question: string | null;
  /** the day by which an answer is needed, `2026-11-30` */
  due: string | null;
  /** null where nothing is asked */
  askClosed: boolean | null;
  /** the time zone of who gets the letter where that is known, else of its sender; null where neither is */
  zone: string | null;
}

/** @param url the personal link. @param words a line of the sender's own, or empty */
export function recordingLetter(about: AboutRecording, sender: string, url: string, words: string): Letter {
  const { title, question, due, askClosed } = about;
  const by = due ? ` An answer is needed by ${spokenDay(due)}.` : "";
  const wanted = question ? `${sender} would like to know: ${question}` : `${sender} waits for your answer.`;
  const asked = askClosed === false ? [wanted + by] : [];
  return {
    subject: title,
    title,
    paragraphs: [[`${sender} has recorded this for you.`, ...facts(about)].join(" "), ...asked],
    ...(words && { quote: { by: sender, words } }),
    link: { words: "Watch it", url },
    foot: foot(sender),
  };
}

/** The same once more, to whoever has not answered. */
export function reminderLetter(about: AboutRecording, sender: string, url: string): Letter {
  const { title, question, due } = about;
  return {
    subject: `Not answered yet: ${title}`,
    title,
    paragraphs: [
      `${sender} waits for your answer${due ? `, which is needed by ${spokenDay(due)}` : ""}. ${facts(about).join(" ")}`.trim(),
      question || "Do you understand, and agree?",
    ],
    link: { words: "Watch and answer", url },
    foot: foot(sender),
  };
}

const facts = ({ durationUs, endsAt, zone }: AboutRecording) => [
  ...(durationUs > 0 ? [`It takes ${spokenLength(durationUs)} to watch.`] : []),
  ...(endsAt ? [`It is open until ${moment(endsAt, zone)}.`] : []),
];

const foot = (sender: string) => [
  `The link is yours: by it ${sender} knows that it was you who watched and answered. Do not pass it on.`,
  `An answer to this mail goes to ${sender}.`,
];

/** Who gets it may be anywhere, so the zone is named. */
const moment = (at: Date, zone: string | null) => {
  const day = { weekday: "long", day: "numeric", month: "long", hour: "2-digit", minute: "2-digit" } as const;
  return at.toLocaleString("en-GB", { ...day, timeZone: knownZone(zone ?? "UTC"), timeZoneName: "short" });
};
const spokenDay = (day: string) =>
  new Date(`${day}T00:00:00Z`).toLocaleDateString("en-GB", {
    weekday: "long",
    day: "numeric",
    month: "long",
    timeZone: "UTC",
  });
