import type { Audience } from "./access";

/** Recordings that are moved at once: their ids come in an address when it is asked who would see them. */
export const MOST_MOVED = 100;

/** Somebody of a folder, as a move looks at them. */
export interface OfFolder {
  /** their account, their address, or their personal link */
  id: string;
  name: string;
  /** belongs to the workspace of the recordings */
  isColleague: boolean;
}

/** The people of a folder and of those above; of no folder, nobody. */
export interface PeopleOfFolder {
  people: readonly OfFolder[];
  /** everybody of the workspace is among them */
  colleagues: boolean;
}

/** Recordings of one owner that lie in one folder and are for the same people. */
export interface MovedPart {
  from: PeopleOfFolder;
  to: PeopleOfFolder;
  audience: Audience;
  ownerId: string;
  count: number;
}

/** Who sees more, or less, after a move: each with how many recordings; `colleagues` for everybody of the workspace. */
export interface SightChange {
  people: { name: string; count: number }[];
  colleagues: number;
}

/**
 * Who gains and who loses sight of recordings by moving them to another folder. Drafts and what is for named people is
 * seen by nobody of a folder; what is for the workspace is seen by its people wherever it lies. A person who is named
 * at a recording may be told here though they keep sight of it.
 */
export function changeOfSight(parts: readonly MovedPart[]): { gains: SightChange; loses: SightChange } {
  const gains = new Tally();
  const loses = new Tally();
  for (const part of parts) {
    if (part.audience === "owner" || part.audience === "named") continue;
    // Whom the audience lets in by itself, a folder neither shows it to nor hides it from.
    const forColleagues = part.audience !== "folder";
    const differs = (has: PeopleOfFolder, had: PeopleOfFolder, into: Tally) => {
      const before = new Set(had.people.map(({ id }) => id));
      for (const person of has.people) {
        const sees = person.isColleague && (forColleagues || had.colleagues);
        if (!before.has(person.id) && !sees && person.id !== part.ownerId) into.add(person, part.count);
      }
      if (has.colleagues && !had.colleagues && !forColleagues) into.colleagues += part.count;
    };
    differs(part.to, part.from, gains);
    differs(part.from, part.to, loses);
  }
  return { gains: gains.told(), loses: loses.told() };
}

class Tally {
  colleagues = 0;
  #counts = new Map<string, { name: string; isColleague: boolean; count: number }>();

  add({ id, name, isColleague }: OfFolder, count: number): void {
    this.#counts.set(id, { name, isColleague, count: (this.#counts.get(id)?.count ?? 0) + count });
  }

  /** A colleague of whom everybody of the workspace tells as much already is not told by name. */
  told(): SightChange {
    const people = [...this.#counts.values()]
      .filter(({ isColleague, count }) => !isColleague || count > this.colleagues)
      .map(({ name, count }) => ({ name, count }))
      .sort((a, b) => a.name.localeCompare(b.name, "en"));
    return { people, colleagues: this.colleagues };
  }
}

const MOST_NAMED = 4;

/**
 * Who it is, in words: "Ida Crake, Tom Reed (2 of them) and everybody of Fenn & Lark"; null for nobody.
 * @param total how many recordings are moved
 */
export function saySight({ people, colleagues }: SightChange, workspace: string, total: number): string | null {
  const say = (name: string, count: number) => (count < total ? `${name} (${count} of them)` : name);
  const all = colleagues > 0 ? [say(`everybody of ${workspace}`, colleagues)] : [];
  const names = people.map(({ name, count }) => say(name, count));
  const more = names.length - MOST_NAMED;
  const told = [...(more > 1 ? [...names.slice(0, MOST_NAMED), `${more} others`] : names), ...all];
  if (told.length < 2) return told[0] ?? null;
  return `${told.slice(0, -1).join(", ")} and ${told.at(-1)}`;
}
