import { describe, expect, it } from "vitest";
import { fold, NOTHING_FOLDED } from "./fold";
import { playedSegments, viewingStatements } from "./xapi";

const S = 1_000_000;
const columns = {
  viewer: Uint32Array.of(0, 0, 1),
  from: Uint32Array.of(0, 14_000, 0),
  to: Uint32Array.of(12_500, 21_000, 1_000),
};
const folded = fold(NOTHING_FOLDED, columns, 2);
const activity = { url: "https://nod.test/w/abc", title: "Ridge", length: 21 * S };
const learner = (number: number, name: string | null) => ({
  number,
  name,
  account: `v${number}`,
  firstOpenedAt: "2026-11-24T09:00:00.000Z",
  lastOpenedAt: "2026-11-24T10:00:00.000Z",
});

// Outside check: the fields that the xAPI Video Profile 1.0.3 and xAPI 1.0.3 require (from memory).
describe("viewing as xAPI statements", () => {
  it("have every required field", () => {
    const statements = viewingStatements(learner(0, "Ida"), activity, folded, (word) => `id-${word}`);
    expect(statements.map((s) => s.verb.id.split("/").at(-1))).toEqual(["initialized", "terminated", "completed"]);
    for (const s of statements) {
      expect(s).toMatchObject({
        actor: { objectType: "Agent", account: { homePage: "https://nod.test", name: "v0" } },
        object: { id: activity.url, definition: { type: "https://w3id.org/xapi/video/activity-type/video" } },
      });
      expect(s.context.contextActivities.category[0]!.id).toBe("https://w3id.org/xapi/video");
      expect(Object.keys(s.context.extensions)).toEqual(
        ["session-id", "length", "completion-threshold"].map((n) => `https://w3id.org/xapi/video/extensions/${n}`),
      );
      expect(new Date(s.timestamp).toISOString()).toBe(s.timestamp);
      // An agent has exactly one identifier beside its name.
      expect(Object.keys(s.actor).sort()).toEqual(["account", "name", "objectType"]);
    }
    expect(statements[1]!.result).toEqual({
      extensions: {
        "https://w3id.org/xapi/video/extensions/time": 21,
        "https://w3id.org/xapi/video/extensions/progress": 0.929,
        "https://w3id.org/xapi/video/extensions/played-segments": "0[.]12.5[,]14[.]21",
      },
    });
    expect(statements[2]!.result).toMatchObject({ completion: true, duration: "PT19.5S" });
  });

  it("name nobody who asked not to be named, and complete nothing that was not finished", () => {
    const statements = viewingStatements(learner(1, null), activity, folded, (word) => word);
    expect(statements).toHaveLength(2);
    expect("name" in statements[0]!.actor).toBe(false);
  });

  it("write nothing seen as nothing", () => expect(playedSegments([])).toBe(""));
});
