import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { MOST_SITES } from "#core/access/sites";
import { colleagueOf, freshRuntime, newMember } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import type { Runtime } from "../runtime";

let runtime: Runtime;
let orla: SignedIn;
beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime);
});
afterAll(() => runtime.close());

describe("sites that may show recordings", () => {
  it("are named and dropped by owners, each once, of their own workspace alone", async () => {
    const { sites } = runtime;
    expect(await sites.of(orla.workspaceId)).toEqual([]);
    await sites.trust(orla, "https://course.glasshouse.test");
    await sites.trust(orla, "https://*.glasshouse.test");
    await sites.trust(orla, "https://course.glasshouse.test");
    expect(await sites.of(orla.workspaceId)).toEqual(["https://course.glasshouse.test", "https://*.glasshouse.test"]);
    const bram = await colleagueOf(runtime, orla);
    await expect(sites.trust(bram, "https://x.test")).rejects.toMatchObject({ status: 403 });
    await expect(sites.drop(bram, "https://*.glasshouse.test")).rejects.toMatchObject({ status: 403 });
    const ida = await newMember(runtime, "Ida Crake");
    await sites.drop(ida, "https://*.glasshouse.test");
    await sites.drop(orla, "https://course.glasshouse.test");
    await sites.drop(orla, "https://course.glasshouse.test");
    expect(await sites.of(orla.workspaceId)).toEqual(["https://*.glasshouse.test"]);
    expect(await sites.of(ida.workspaceId)).toEqual([]);
  });

  it(`are ${MOST_SITES} at the most, also when many are named at once`, async () => {
    const maud = await newMember(runtime, "Maud Thorne");
    const many = Array.from({ length: MOST_SITES + 10 }, (_, n) => runtime.sites.trust(maud, `https://s${n}.test`));
    const done = await Promise.allSettled(many);
    expect(done.filter(({ status }) => status === "fulfilled").length).toBe(MOST_SITES);
    expect((await runtime.sites.of(maud.workspaceId)).length).toBe(MOST_SITES);
    // One of those that are there is no more.
    await runtime.sites.trust(maud, (await runtime.sites.of(maud.workspaceId))[0]!);
  });
});
