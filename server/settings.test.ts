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
    [{ DATA_DIR: "/etc/passwd/data" }, /cannot be used/],
  ])("refuses %j and says which", (env, message) => {
    expect(() => readSettings({ DATA_DIR: dir, ...env })).toThrow(SettingsError);
    expect(() => readSettings({ DATA_DIR: dir, ...env })).toThrow(message);
  });
});
