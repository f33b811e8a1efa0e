import { spawn } from "node:child_process";
import { once } from "node:events";
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { claim, LockedError } from "./lock";

const dir = () => mkdtempSync(join(tmpdir(), "lock-"));
const startOf = (pid: number) => {
  const stat = readFileSync(`/proc/${pid}/stat`, "utf8");
  return stat.slice(stat.lastIndexOf(")") + 2).split(" ")[19]!;
};

/** Another process, and the claim that it would have left. */
async function other(at: string) {
  const child = spawn("sleep", ["60"], { stdio: "ignore" });
  await once(child, "spawn");
  writeFileSync(join(at, "lock"), `${child.pid} ${startOf(child.pid!)}\n`);
  return child;
}

describe("a data directory", () => {
  it("is claimed, and given back", async () => {
    const at = dir();
    const release = await claim(at);
    expect(readFileSync(join(at, "lock"), "utf8")).toBe(`${process.pid} ${startOf(process.pid)}\n`);
    release();
    expect(existsSync(join(at, "lock"))).toBe(false);
  });

  it("is refused while another process lives, by name", async () => {
    const at = dir();
    const child = await other(at);
    await expect(claim(at)).rejects.toThrow(LockedError);
    await expect(claim(at)).rejects.toThrow(`process ${child.pid}`);
    child.kill("SIGKILL");
  });

  it("is taken over from a process that dies meanwhile", async () => {
    const at = dir();
    const child = await other(at);
    setTimeout(() => child.kill("SIGKILL"), 500);
    (await claim(at))();
  });

  it.each([
    ["a process that is gone", "999999999 5"],
    ["another process that got the same number", `${process.ppid} 1`],
    ["half a line", "12"],
    ["nothing", ""],
  ])("is taken over from %s", async (_, text) => {
    const at = dir();
    writeFileSync(join(at, "lock"), text);
    (await claim(at))();
  });

  it("is claimed by one of many who try at once", async () => {
    const at = dir();
    const script = `import { claim } from ${JSON.stringify(join(import.meta.dirname, "lock.ts"))};
      claim(${JSON.stringify(at)}).then(() => { console.log("mine"); setTimeout(() => undefined, 6000); }, () => process.exit(3));`;
    const tries = Array.from({ length: 3 }, () =>
      spawn("npx", ["--no-install", "tsx", "--eval", script], { stdio: ["ignore", "pipe", "ignore"] }),
    );
    const said = await Promise.all(
      tries.map(async (child) => {
        let text = "";
        child.stdout.on("data", (part: Buffer) => (text += part.toString()));
        await Promise.race([once(child, "exit"), once(child.stdout, "data")]);
        return text.trim();
      }),
    );
    expect(said.filter((s) => s === "mine")).toHaveLength(1);
    for (const child of tries) child.kill("SIGKILL");
  }, 30_000);
});
