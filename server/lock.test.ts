import { spawn } from "node:child_process";
import { once } from "node:events";
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, describe, expect, it } from "vitest";
import { claim, LockedError } from "./lock";

const dir = () => mkdtempSync(join(tmpdir(), "lock-"));

/** Claims the directory as soon as a line comes in, and says what came of it. */
const script = (at: string) => `
  import { claim } from ${JSON.stringify(join(import.meta.dirname, "lock.ts"))};
  process.stdin.once("data", () =>
    claim(${JSON.stringify(at)}).then(() => console.log("mine"), () => console.log("refused")));
  console.log("ready");
`;

const started: ReturnType<typeof other>[] = [];
/** Another process. */
function other(at: string) {
  const child = spawn(process.execPath, ["--import", "tsx", "--input-type=module", "--eval", script(at)], {
    stdio: ["pipe", "pipe", "inherit"],
  });
  const says = async () => String((await once(child.stdout, "data"))[0]).trim();
  const claims = () => {
    child.stdin.write("go\n");
    return says();
  };
  return { child, says, claims };
}
async function ready(at: string) {
  const one = other(at);
  started.push(one);
  expect(await one.says()).toBe("ready");
  return one;
}
afterEach(() => {
  for (const { child } of started.splice(0)) child.kill("SIGKILL");
});

describe("a data directory", () => {
  it("is claimed, and given back", async () => {
    const at = dir();
    const release = await claim(at);
    expect(readFileSync(join(at, "lock"), "utf8")).toBe(`${process.pid}\n`);
    release();
    expect(existsSync(join(at, "lock"))).toBe(false);
    (await claim(at))();
  });

  it("is refused while another process lives, by name, under whatever path", async () => {
    const at = dir();
    const { child, claims } = await ready(at);
    expect(await claims()).toBe("mine");
    await expect(claim(`${at}/.`)).rejects.toThrow(LockedError);
    await expect(claim(at)).rejects.toThrow(`process ${child.pid}`);
    await expect(claim(dir())).resolves.toBeTypeOf("function");
  }, 30_000);

  it("is taken over from a process that dies meanwhile", async () => {
    const at = dir();
    const { child, claims } = await ready(at);
    expect(await claims()).toBe("mine");
    setTimeout(() => child.kill("SIGKILL"), 500);
    (await claim(at))();
  }, 30_000);

  it("is claimed whatever a killed process left in its file", async () => {
    const at = dir();
    writeFileSync(join(at, "lock"), `${process.ppid} 1`);
    (await claim(at))();
  });

  it("is claimed by one of many who try at once", async () => {
    const at = dir();
    writeFileSync(join(at, "lock"), "999999999\n");
    const tries = await Promise.all(Array.from({ length: 6 }, () => ready(at)));
    const said = await Promise.all(tries.map((one) => one.claims()));
    expect(said.sort()).toEqual(["mine", ...Array.from({ length: 5 }, () => "refused")]);
  }, 60_000);
});
