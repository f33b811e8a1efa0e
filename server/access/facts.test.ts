import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { freshRuntime, newMember } from "../../testing/server";
import { Channel } from "../live/channel";
import type { Runtime } from "../runtime";
import { AccessFacts } from "./facts";

let runtime: Runtime;
let channel: Channel;
let elsewhere: AccessFacts;
beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  // A second process, as far as access is concerned: a cache of its own, and its own connection for notices.
  const { database, host, port, username, password } = runtime.db.sequelize.config as {
    database: string;
    host: string;
    port: string;
    username: string;
    password: string;
  };
  channel = new Channel(
    `postgres://${username}:${encodeURIComponent(password)}@${host}:${port}/${database}`,
    runtime.log,
  );
  await channel.open();
  elsewhere = new AccessFacts(runtime.db, channel);
});
afterAll(async () => {
  await channel.close();
  await runtime.close();
});

describe("access facts in two processes", () => {
  it("agree soon after a change, though both remember", async () => {
    const orla = await newMember(runtime);
    const { token, recordingId } = await runtime.takes.start(orla, {
      source: "voice",
      title: "Sashes",
      audience: "anyone",
    });
    expect((await elsewhere.require(null, "watch", token)).id).toBe(recordingId);
    await runtime.sharing.change(orla, recordingId, { audience: "owner" });
    await expect(runtime.access.require(null, "watch", token)).rejects.toThrow();
    await expect
      .poll(() =>
        elsewhere.require(null, "watch", token).then(
          () => "open",
          () => "closed",
        ),
      )
      .toBe("closed");
  });

  it("do not remember for long that there is nothing, and take no made-up link to the database", async () => {
    expect(await elsewhere.byToken("x")).toBeNull();
    expect(await elsewhere.byToken("' or 1=1 --aaaaaaaaaaaaa")).toBeNull();
    await expect(elsewhere.require(null, "watch", "AAAAAAAAAAAAAAAAAAAAAA")).rejects.toMatchObject({ status: 404 });
  });
});
