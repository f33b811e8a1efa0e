import { createServer, type RequestListener } from "node:http";
import type { Settings } from "../server/settings";
import type { Runtime } from "../server/runtime";

/** What stands in for something outside, beside the sample. It is on this computer alone. */
export interface StandIn {
  /** what it is, for whoever starts the sample */
  what: string;
  url: string;
  stop: () => Promise<void>;
}

/** Another site than ours, also for a browser: by another name of this computer. */
export const otherSite = ({ publicUrl }: Pick<Settings, "publicUrl">, port: number): string =>
  `http://${new URL(publicUrl).hostname === "127.0.0.1" ? "localhost" : "127.0.0.1"}:${port}`;

/** Answers on a port of this computer. @returns null where that is taken; `setting` names it otherwise */
export async function standIn(
  { log, settings }: Pick<Runtime, "log" | "settings">,
  { what, port, setting, answer }: { what: string; port: number; setting: string; answer: RequestListener },
): Promise<StandIn | null> {
  const server = createServer(answer);
  const listens = await new Promise<boolean>((done) => {
    server.once("error", (error) => {
      log.warn({ err: error, what }, `this stand-in does not start; set ${setting}`);
      done(false);
    });
    server.listen(port, "127.0.0.1", () => done(true));
  });
  if (!listens) return null;
  log.info({ port, what }, "stands in");
  return {
    what,
    url: otherSite(settings, port),
    stop: () =>
      new Promise((done) => {
        server.close(() => done());
        server.closeAllConnections();
      }),
  };
}
