import { mkdtempSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { readSettings, SettingsError } from "./settings";

describe("settings", () => {
  const dir = mkdtempSync(join(tmpdir(), "settings-"));

  it("has a default for everything, and keeps the secret it made", () => {
    const first = readSettings({ DATA_DIR: dir });
    expect(first).toMatchObject({
      port: 5180,
      dataDir: dir,
      databaseUrl: null,
      storageUrl: `file:${dir}/media`,
      publicUrl: "http://localhost:5180",
    });
    expect(first.sessionSecret.length).toBeGreaterThanOrEqual(43);
    expect(readSettings({ DATA_DIR: dir }).sessionSecret).toBe(first.sessionSecret);
    expect(statSync(join(dir, "session-secret")).mode & 0o077).toBe(0);
  });

  it("listens on this computer only while anybody can sign in to the sample", () => {
    expect(readSettings({ DATA_DIR: dir }).host).toBe("127.0.0.1");
    expect(readSettings({ DATA_DIR: dir, HOST: "localhost" }).host).toBe("localhost");
    expect(readSettings({ DATA_DIR: dir, DEMO: "off" }).host).toBeNull();
    // Where others can come, there is no sample unless it is asked for, and then it is refused.
    const demo = (env: Record<string, string>) => readSettings({ DATA_DIR: dir, ...env }).demo;
    expect([demo({}), demo({ HOST: "::1", PUBLIC_URL: "http://127.0.0.1:80" })]).toEqual([true, true]);
    expect([demo({ HOST: "0.0.0.0" }), demo({ PUBLIC_URL: "https://nod.example" })]).toEqual([false, false]);
    expect(readSettings({ DATA_DIR: dir, DEMO: "off", HOST: "0.0.0.0" }).host).toBe("0.0.0.0");
  });

  it("believes no proxy, so many, or those of some networks", () => {
    const trust = (text?: string) => readSettings({ DATA_DIR: dir, TRUST_PROXY: text }).trustProxy;
    expect([trust(), trust("2"), trust("loopback, 10.0.0.0/8")]).toEqual([0, 2, ["loopback", "10.0.0.0/8"]]);
  });

  it("takes an empty value as absent and drops a trailing slash", () => {
    expect(readSettings({ DATA_DIR: dir, PORT: "", PUBLIC_URL: "https://nod.example/" })).toMatchObject({
      port: 5180,
      publicUrl: "https://nod.example",
    });
  });

  it.each([
    [{ PORT: "0x" }, /PORT/],
    [{ PORT: "70000" }, /PORT/],
    [{ DATABASE_URL: "mysql://x" }, /DATABASE_URL/],
    [{ STORAGE_URL: "ftp://x" }, /STORAGE_URL/],
    [{ SESSION_SECRET: "short" }, /SESSION_SECRET/],
    [{ TRUST_PROXY: "everybody" }, /TRUST_PROXY/],
    [{ TRUST_PROXY: "10.0.0.0/99" }, /TRUST_PROXY/],
    [{ DEMO: "on", HOST: "0.0.0.0" }, /DEMO=off, or leave HOST/],
    [{ DEMO: "on", PUBLIC_URL: "https://nod.example" }, /leave PUBLIC_URL/],
    [{ DEMO: "on", HOST: "10.0.0.2", PUBLIC_URL: "https://nod.example" }, /leave HOST .* and PUBLIC_URL/],
    [{ DATA_DIR: "/etc/passwd/data" }, /cannot be used/],
  ])("refuses %j and says which", (env, message) => {
    expect(() => readSettings({ DATA_DIR: dir, ...env })).toThrow(SettingsError);
    expect(() => readSettings({ DATA_DIR: dir, ...env })).toThrow(message);
  });
});
