import { describe, expect, it } from "vitest";
import { explain } from "./devices";

const error = (name: string) => Object.assign(new Error(), { name });

describe("devices that do not open", () => {
  it.each([
    ["camera", "NotAllowedError", "refused", /may not use the camera.*site settings/],
    ["microphone", "NotFoundError", "missing", /No microphone was found/],
    ["camera", "OverconstrainedError", "missing", /No camera was found/],
    ["microphone", "NotReadableError", "busy", /in use by another program/],
    ["camera", "TypeError", "other", /did not start \(TypeError\)/],
    ["screen", "NotAllowedError", "refused", /Nothing was chosen to be shown/],
    ["screen", "NotReadableError", "other", /could not be captured/],
  ] as const)("%s, %s", (device, name, reason, message) => {
    const problem = explain(device, error(name));
    expect(problem.reason).toBe(reason);
    expect(problem.message).toMatch(message);
  });
});
