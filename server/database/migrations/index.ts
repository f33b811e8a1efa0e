import { first } from "./001-first";
import { answers } from "./002-answers";
import { ground } from "./003-ground";
import { people } from "./004-people";
import { takes } from "./005-takes";
import { milestones } from "./006-milestones";
import { desk } from "./007-desk";
import { editing } from "./008-editing";
import { drafts } from "./009-drafts";

/** In order. A migration that has landed is never changed; a new one is added. */
export const migrations: { name: string; sql: string }[] = [
  { name: "001-first", sql: first },
  { name: "002-answers", sql: answers },
  { name: "003-ground", sql: ground },
  { name: "004-people", sql: people },
  { name: "005-takes", sql: takes },
  { name: "006-milestones", sql: milestones },
  { name: "007-desk", sql: desk },
  { name: "008-editing", sql: editing },
  { name: "009-drafts", sql: drafts },
];
