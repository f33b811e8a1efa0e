import { spawn, type ChildProcess } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Readable, Writable } from "node:stream";
import { costOfProcesses, type BrowserCost, type ProcessInfo } from "../testing/renderer";
import { CHROMIUM, FLAGS } from "./browser";
import type { Rig } from "./rig";

interface Answer {
  id?: number;
  method?: string;
  params?: { sessionId?: string; targetInfo?: { type: string }; requestId?: string; request?: { url: string } };
  result?: Record<string, unknown>;
  error?: { message: string };
}

/** A file that is given to the page in place of what the server has. */
export interface GivenFile {
  type: string;
  body: string;
}

interface Opening {
  /** the script engine has its full young generation from the start: its doubling is no growth of the page */
  grown?: boolean;
  /** runs before the page's own, in every document */
  script?: string;
  /** by their paths */
  files?: Readonly<Record<string, GivenFile>>;
}

const GROWN = "--min-semi-space-size=32 --max-semi-space-size=32";

/** A browser that has just started is busy with itself. */
const SETTLE_MS = 1_500;

/**
 * One page of a browser that nobody listens to. A test driver has the browser tell of all requests, and for that their
 * bodies are kept in the page's own memory: what a page costs can only be seen without one. Speaks the browser's
 * protocol (Chrome DevTools Protocol) by a pipe, and asks for nothing but evaluation.
 */
export class QuietPage {
  #waiting = new Map<number, { done: (result: Record<string, unknown>) => void; failed: (error: Error) => void }>();
  #count = 0;
  #rest = "";
  #session: string | undefined;
  #workers = new Set<string>();

  private constructor(
    private readonly browser: ChildProcess,
    private readonly dir: string,
    private readonly files: Readonly<Record<string, GivenFile>>,
  ) {
    (browser.stdio[4] as Readable).setEncoding("utf8").on("data", (text: string) => {
      const answers = (this.#rest + text).split("\0");
      this.#rest = answers.pop()!;
      for (const answer of answers) this.#hear(JSON.parse(answer) as Answer);
    });
  }

  /** Opens a page of the rig's member, in a browser that knows nothing yet. */
  static async open(
    rig: Rig,
    path: string,
    { script = "", files = {}, grown = false }: Opening = {},
  ): Promise<QuietPage> {
    const dir = mkdtempSync(join(tmpdir(), "clear-nod-quiet-"));
    const args = [
      ...FLAGS.map((flag) => (grown && flag.startsWith("--js-flags=") ? `${flag} ${GROWN}` : flag)),
      "--headless=new",
      "--remote-debugging-pipe",
      "--window-size=1280,800",
      `--user-data-dir=${dir}`,
      ...(process.getuid?.() === 0 ? ["--no-sandbox"] : []),
    ];
    const stdio = ["ignore", "ignore", "ignore", "pipe", "pipe"] as const;
    const page = new QuietPage(spawn(CHROMIUM, args, { stdio: [...stdio] }), dir, files);
    const { targetId } = await page.#send("Target.createTarget", { url: "about:blank" });
    const { sessionId } = await page.#send("Target.attachToTarget", { targetId, flatten: true });
    page.#session = sessionId as string;
    await page.#tell("Target.setAutoAttach", { autoAttach: true, waitForDebuggerOnStart: false, flatten: true });
    const [name, value] = rig.cookie.split("=");
    await page.#send("Storage.setCookies", { cookies: [{ name, value, url: rig.base }] });
    await page.#tell("Page.enable", {});
    await page.#tell("Page.addScriptToEvaluateOnNewDocument", { source: script });
    const patterns = Object.keys(files).map((path) => ({ urlPattern: `${rig.base}${path}` }));
    if (patterns.length > 0) await page.#tell("Fetch.enable", { patterns });
    await new Promise((next) => setTimeout(next, SETTLE_MS));
    await page.#tell("Page.navigate", { url: `${rig.base}${path}` });
    return page;
  }

  /** The value of an expression in the page, taken as if the person had just pressed something. */
  async evaluate<T>(expression: string): Promise<T> {
    const given = { expression, awaitPromise: true, returnByValue: true, userGesture: true };
    const { result, exceptionDetails } = await this.#tell("Runtime.evaluate", given);
    if (exceptionDetails) throw new Error(`${expression}: ${JSON.stringify(exceptionDetails)}`);
    return (result as { value: T }).value;
  }

  /** Waits until an expression is true. */
  async until(expression: string, ms = 60_000): Promise<void> {
    for (const end = performance.now() + ms; !(await this.evaluate<boolean>(`Boolean(${expression})`));) {
      if (performance.now() > end) throw new Error(`not so after ${ms} ms: ${expression}`);
      await new Promise((next) => setTimeout(next, 20));
    }
  }

  /** Presses the button of this name, when it is there. */
  async press(name: RegExp): Promise<void> {
    const button = `[...document.querySelectorAll("button")].find((b) => !b.disabled
      && ${String(name)}.test((b.getAttribute("aria-label") ?? b.textContent).trim()))`;
    await this.until(button);
    await this.evaluate(`${button}.click()`);
  }

  /** In the page and in its workers. */
  async collectGarbage(): Promise<void> {
    await this.evaluate("gc()");
    for (const worker of this.#workers) await this.#send("Runtime.evaluate", { expression: "gc()" }, worker);
  }

  async cost(): Promise<BrowserCost> {
    return costOfProcesses((await this.#send("SystemInfo.getProcessInfo")).processInfo as ProcessInfo[]);
  }

  async close(): Promise<void> {
    const ended = new Promise((done) => this.browser.once("exit", done));
    await this.#send("Browser.close");
    await ended;
    rmSync(this.dir, { recursive: true, force: true });
  }

  #tell(method: string, params: object) {
    return this.#send(method, params, this.#session);
  }

  #send(method: string, params: object = {}, sessionId?: string): Promise<Record<string, unknown>> {
    const id = ++this.#count;
    (this.browser.stdio[3] as Writable).write(`${JSON.stringify({ id, method, params, sessionId })}\0`);
    return new Promise((done, failed) => this.#waiting.set(id, { done, failed }));
  }

  #give(requestId: string, path: string): void {
    const { type, body } = this.files[path]!;
    const responseHeaders = [{ name: "content-type", value: type }];
    const answer = { requestId, responseCode: 200, responseHeaders, body: Buffer.from(body).toString("base64") };
    this.#tell("Fetch.fulfillRequest", answer).catch((error: Error) => console.error(`${path}: ${error.message}`));
  }

  #hear({ id, method, params, result, error }: Answer): void {
    if (method === "Target.attachedToTarget" && params?.targetInfo?.type === "worker")
      this.#workers.add(params.sessionId!);
    if (method === "Fetch.requestPaused") this.#give(params!.requestId!, new URL(params!.request!.url).pathname);
    if (method === "Target.detachedFromTarget") this.#workers.delete(params!.sessionId!);
    if (id === undefined) return;
    const waiting = this.#waiting.get(id);
    this.#waiting.delete(id);
    if (error) waiting?.failed(new Error(error.message));
    else waiting?.done(result!);
  }
}
