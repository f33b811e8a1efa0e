/** Where taking the noise out of the voice of a take stands. */
export type Suppressing = "wanted" | "made" | "failed";

/** Where the last of several stands. What nobody has asked for yet is wanted. */
export function lastOf(states: readonly (Suppressing | null)[]): Suppressing {
  if (states.includes("failed")) return "failed";
  return states.every((state) => state === "made") ? "made" : "wanted";
}
