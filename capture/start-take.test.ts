import { describe, expect, it } from "vitest";
import { starter } from "./start-take";
import type { NewRecording } from "./recorder-state";

const wanted: NewRecording = {
  source: "screen",
  takeOf: null,
  title: "Ridge",
  audience: "owner",
  folder: "north",
  ask: { kind: "nothing", question: "", choices: [], due: null, zone: "UTC" },
  description: "",
  tags: [],
  person: { id: "orla", workspaceId: "w1" },
  stays: false,
};
const given = { takeId: "t", recordingId: "r1", token: "k", link: "/w/k", title: "Ridge, part 2" };

function rig(answer: (signal: AbortSignal) => Response | Promise<Response>) {
  const bodies: Record<string, unknown>[] = [];
  const start = starter(async (_url, init) => {
    bodies.push(JSON.parse(init.body as string) as Record<string, unknown>);
    return answer(init.signal!);
  }, 30);
  return { bodies, start };
}

describe("beginning a take", () => {
  it("has its link at once where the server hears of it", async () => {
    const { bodies, start } = rig(() => new Response(JSON.stringify(given), { status: 201 }));
    const take = await start(wanted);
    expect(take).toMatchObject({ registered: { recordingId: "r1", token: "k" }, title: "Ridge, part 2" });
    expect(bodies[0]).toMatchObject({
      takeId: take.takeId,
      by: "orla",
      workspace: "w1",
      source: "screen",
      audience: "owner",
      folder: "north",
    });
    expect(take.takeId).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4/);
  });

  it("names the recording, and nothing that stands already, for another take", async () => {
    const { bodies, start } = rig(() => new Response(JSON.stringify(given), { status: 201 }));
    await start({ ...wanted, takeOf: "r1", person: null });
    expect(Object.keys(bodies[0]!).sort()).toEqual(["recording", "source", "takeId"]);
  });

  it.each([
    ["cannot be reached", () => Promise.reject(new TypeError("no network"))],
    ["is recovering", () => new Response("{}", { status: 503 })],
    [
      "does not answer in time",
      (signal: AbortSignal) =>
        new Promise<Response>((_, no) => signal.addEventListener("abort", () => no(signal.reason as Error))),
    ],
    ["breaks off in its answer", () => new Response("{", { status: 201 })],
  ] as const)("begins all the same where the server %s", async (_, answer) => {
    const take = await rig(answer).start(wanted);
    expect(take).toMatchObject({ registered: null, title: "Ridge", start: { takeId: take.takeId, by: "orla" } });
  });

  it.each([
    [401, "You are signed out."],
    [409, "This workspace is full."],
  ])("does not begin where the server says no: %d", async (status, message) => {
    const { start } = rig(() => new Response(JSON.stringify({ error: "no", message }), { status }));
    await expect(start(wanted)).rejects.toThrow(message);
  });
});
