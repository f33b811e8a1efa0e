import { describe, expect, it } from "vitest";
import { deedOf, keyOf, readKeys, USUAL_KEYS, withKey } from "./keys";

const press = (key: string, more: Partial<Parameters<typeof keyOf>[0]> = {}) =>
  keyOf({ key, shiftKey: false, ctrlKey: false, metaKey: false, altKey: false, ...more });

describe("keys of the record desk", () => {
  it("have names", () => {
    expect([press("e"), press("E", { shiftKey: true }), press("7"), press("F8"), press("ä")]).toEqual([
      "E",
      "Shift+E",
      "7",
      "F8",
      "Ä",
    ]);
    expect(press("!", { shiftKey: true })).toBe("!");
    for (const key of ["Enter", " ", "Tab", "Escape", "ArrowLeft", "Shift"]) expect(press(key)).toBeNull();
    for (const with_ of ["ctrlKey", "metaKey", "altKey"]) expect(press("s", { [with_]: true })).toBeNull();
  });

  it("lead to deeds, each to one", () => {
    expect(deedOf(USUAL_KEYS, "P")).toBe("pause");
    expect(deedOf(USUAL_KEYS, "Shift+P")).toBeNull();
    expect(new Set(Object.values(USUAL_KEYS)).size).toBe(Object.values(USUAL_KEYS).length);
  });

  it("can be changed, and a conflict is refused", () => {
    expect(withKey(USUAL_KEYS, "stop", "Shift+S")).toEqual({ keys: { ...USUAL_KEYS, stop: "Shift+S" } });
    expect(withKey(USUAL_KEYS, "stop", "E")).toEqual({ keys: USUAL_KEYS });
    expect(withKey(USUAL_KEYS, "stop", "P")).toEqual({
      problem: "P is for “Pause, and go on” already. Press another key.",
    });
    expect(withKey(USUAL_KEYS, "stop", "?")).toHaveProperty("problem");
  });

  it("are read as they were kept, and as usual where that cannot be", () => {
    const own = { ...USUAL_KEYS, stop: "Shift+S", corner: "" };
    expect(readKeys(JSON.parse(JSON.stringify(own)))).toEqual(own);
    for (const kept of [null, 3, { ...own, stop: "P" }, { ...own, stop: "?" }])
      expect(readKeys(kept)).toEqual(USUAL_KEYS);
    expect(readKeys({ stop: 7, pause: "x".repeat(40) })).toEqual(USUAL_KEYS);
  });
});
