import { fileURLToPath } from "node:url";
import { pino, type Logger } from "pino";
import { AccessFacts } from "./access/facts";
import { Accounts } from "./accounts/accounts";
import { SignInLimits } from "./accounts/limits";
import { Sessions } from "./accounts/sessions";
import { openDatabase, type Database } from "./database/connection";
import { Ingest } from "./ingest/ingest";
import { clearDeleted } from "./jobs/clear-deleted";
import { makePoster } from "./jobs/make-poster";
import { Queue } from "./jobs/queue";
import { Channel } from "./live/channel";
import { Playback } from "./playback/playback";
import { Library } from "./recordings/library";
import { Takes } from "./recordings/takes";
import type { Settings } from "./settings";
import { DiskStorage } from "./storage/disk";
import type { Storage } from "./storage/storage";

/** Everything that a request may need, wired once per process. */
export interface Runtime {
  settings: Settings;
  log: Logger;
  db: Database;
  storage: Storage;
  access: AccessFacts;
  sessions: Sessions;
  accounts: Accounts;
  takes: Takes;
  ingest: Ingest;
  playback: Playback;
  library: Library;
  close(): Promise<void>;
}

/** Connects to the database at `databaseUrl`, migrates it, and starts the job workers. */
export async function openRuntime(settings: Settings, databaseUrl: string): Promise<Runtime> {
  const log = pino({ level: settings.logLevel, base: undefined, redact: ["req.headers.cookie", "req.headers.authorization"] });
  const db = await openDatabase(databaseUrl, (sql) => log.trace(sql));
  const storage = new DiskStorage(fileURLToPath(settings.storageUrl.replace(/^file:(?!\/\/)/, "file://")));
  const channel = new Channel(databaseUrl, log);
  await channel.open();
  const queue = new Queue(databaseUrl, log);
  const access = new AccessFacts(db, channel);
  const makePosterLater = (takeId: string) => queue.send("make-poster", { takeId });
  const takes = new Takes(db, access, makePosterLater);
  await queue.start({
    "make-poster": ({ takeId }) => makePoster(db, storage, takeId),
    "clear-deleted": () => clearDeleted(db, storage),
  });
  return {
    ...{ settings, log, db, storage, access, takes },
    sessions: new Sessions(db, settings.sessionSecret, channel),
    accounts: new Accounts(db, await SignInLimits.open(db)),
    ingest: new Ingest(db, storage, takes, makePosterLater),
    playback: new Playback(db, storage),
    library: new Library(db, access, storage),
    async close() {
      await queue.stop();
      await channel.close();
      await db.close();
    },
  };
}
