import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { feedTake, freshRuntime, newMember } from "../testing/server";
import { maySeeMetrics } from "./metrics";
import type { Runtime } from "./runtime";

describe("what whoever runs a process may know of it", () => {
  let runtime: Runtime;
  // No worker takes the work: it waits.
  beforeAll(async () => (runtime = await freshRuntime(inject("databaseUrl"), { ROLE: "web" })));
  afterAll(() => runtime.close());

  /** The samples of the text format (Prometheus, "Exposition formats", from memory): a name, labels, and a number. */
  async function samples(): Promise<Map<string, number>> {
    const lines = (await runtime.metrics.text()).split("\n").filter((line) => line !== "" && !line.startsWith("#"));
    return new Map(
      lines.map((line) => {
        const [, name, value] = /^([a-z_]\w*(?:\{[^}]*\})?) (\S+)$/.exec(line)!;
        return [name!, Number(value)];
      }),
    );
  }

  it("counts what was asked for and refused, and what waits", async () => {
    const orla = await newMember(runtime);
    await feedTake(runtime, orla, "screen", { screen: "screen" }, 4);
    runtime.metrics.request("page", 200, 0.02);
    runtime.metrics.request("page", 204, 3);
    runtime.metrics.request("api", 404, 0.001);
    runtime.metrics.partRefused("no-key-frame");
    const told = await samples();
    expect(told.get('clear_nod_request_seconds_count{kind="page",status="2xx"}')).toBe(2);
    expect(told.get('clear_nod_request_seconds_bucket{le="0.025",kind="page",status="2xx"}')).toBe(1);
    expect(told.get('clear_nod_request_seconds_count{kind="api",status="4xx"}')).toBe(1);
    expect(told.get('clear_nod_parts_refused_total{code="no-key-frame"}')).toBe(1);
    expect(told.get("clear_nod_ingest_round_seconds_count")).toBeGreaterThan(0);
    expect(told.get('clear_nod_jobs{job="take-ended",state="waiting"}')).toBe(1);
    expect(told.get('clear_nod_job_oldest_seconds{job="take-ended"}')).toBeGreaterThanOrEqual(0);
    expect(told.get('clear_nod_database_connections{state="open"}')).toBeGreaterThan(0);
    expect(told.get("clear_nod_streams")).toBe(0);
    expect(told.get("nodejs_eventloop_lag_seconds")).toBeGreaterThanOrEqual(0);
  });

  it("tells no names, words or addresses", async () => {
    const orla = await newMember(runtime, "Orla Thorne");
    await feedTake(runtime, orla, "voice", { microphone: "microphone" }, 2, "A secret title");
    const text = await runtime.metrics.text();
    for (const word of ["Thorne", "secret", orla.email, orla.id]) expect(text).not.toContain(word);
  });
});

it("is shown to who has the token, and to nobody where there is none", () => {
  const token = "a-token-of-whoever-runs-it";
  for (const scheme of ["Bearer", "bearer"]) expect(maySeeMetrics(token, `${scheme} ${token}`)).toBe(true);
  for (const wrong of [undefined, "", token, `Bearer ${token}x`, `Basic ${token}`, "Bearer "])
    expect(maySeeMetrics(token, wrong)).toBe(false);
  for (const any of [undefined, "", "Bearer ", "Bearer null"]) expect(maySeeMetrics(null, any)).toBe(false);
});
