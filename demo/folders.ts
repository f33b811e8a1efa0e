import type { ColleaguesRight } from "#core/access/folders";
import { GUESTS, type DemoMember } from "./people";

/** Where recordings of the sample lie. */
export interface DemoFolder {
  name: string;
  by: DemoMember["key"];
  /** the folder in which it lies, which is made before it */
  within?: string;
  colleagues?: ColleaguesRight;
  /** clients, by their names */
  people?: string[];
  slugs: string[];
}

export const FOLDERS: readonly DemoFolder[] = [
  { name: "North range", by: "orla", colleagues: "add", slugs: ["ridge-vent", "pane-schedule"] },
  { name: "Survey", by: "suri", within: "North range", slugs: ["survey-drawing", "sill-moisture"] },
  { name: "How we work", by: "bram", colleagues: "add", slugs: ["no-heat", "scarf-joint", "ladder"] },
  { name: "For the trustees", by: "orla", people: Object.values(GUESTS), slugs: ["from-the-lawn"] },
];
