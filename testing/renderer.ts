import { readFileSync } from "node:fs";
import type { Browser } from "@playwright/test";

/** What a browser costs at a moment. */
export interface BrowserCost {
  /** memory of its renderers alone, anonymous and shared, in MB (`RssAnon` and `RssShmem` of proc(5)) */
  rendererMegabytes: number;
  /** processor time of all its processes so far, in seconds */
  processorSeconds: number;
}

export interface ProcessInfo {
  type: string;
  id: number;
  cpuTime: number;
}

/** Asks a browser for its processes. */
async function processesOf(browser: Browser): Promise<ProcessInfo[]> {
  const session = await browser.newBrowserCDPSession();
  try {
    return (await session.send("SystemInfo.getProcessInfo")).processInfo as ProcessInfo[];
  } finally {
    await session.detach();
  }
}

/** What a browser costs now. */
export const costOf = async (browser: Browser): Promise<BrowserCost> => costOfProcesses(await processesOf(browser));

/** What processes cost now; the kernel is asked for what the renderers among them hold. */
export const costOfProcesses = (all: readonly ProcessInfo[]): BrowserCost => ({
  rendererMegabytes: all.filter((p) => p.type === "renderer").reduce((sum, p) => sum + ownMegabytes(p.id), 0),
  processorSeconds: all.reduce((sum, p) => sum + p.cpuTime, 0),
});

/** The process that draws the page, for ending it as a crash does. */
export async function rendererOf(browser: Browser): Promise<number> {
  const renderers = (await processesOf(browser)).filter((p) => p.type === "renderer");
  return renderers.sort((a, b) => b.cpuTime - a.cpuTime)[0]!.id;
}

/** Memory of a process that no other shares, but for what is shared in memory; 0 when it has ended. */
export function ownMegabytes(pid: number): number {
  try {
    const status = readFileSync(`/proc/${pid}/status`, "utf8");
    const of = (name: string) => Number(new RegExp(`^${name}:\\s+(\\d+) kB`, "m").exec(status)?.[1] ?? 0);
    return (of("RssAnon") + of("RssShmem")) / 1024;
  } catch {
    return 0; // it ended between the two questions
  }
}
