import type { Logger } from "pino";
import type { Ask } from "#core/answers/kinds";
import { shownBy } from "#core/recipe/history";
import { AccessFacts } from "./access/facts";
import { Asks } from "./answers/asks";
import { Comments } from "./answers/comments";
import { Inbox } from "./answers/inbox";
import { Invites } from "./answers/invites";
import { DeedLimits } from "./deed-limits";
import { peopleOf, type People } from "./answers/people";
import { Reactions } from "./answers/reactions";
import { Sayings } from "./answers/sayings";
import { Viewers } from "./answers/viewers";
import { Accounts } from "./accounts/accounts";
import { Computers } from "./accounts/computers";
import { SignInLimits } from "./accounts/limits";
import { Sessions } from "./accounts/sessions";
import { openDatabase, type Database } from "./database/connection";
import { settleIn } from "./database/moved";
import { addressReader, type AddressOf } from "./http/address";
import { Drafts } from "./editing/drafts";
import { clearEdges } from "./editing/edges";
import { Editing } from "./editing/editing";
import { Looks, lookOver } from "./editing/looks";
import { Proposals } from "./editing/proposals";
import { Problem } from "./http/problem";
import { Ingest } from "./ingest/ingest";
import { clearDeleted } from "./jobs/clear-deleted";
import { makePoster } from "./jobs/make-poster";
import { Queue, type Handlers } from "./jobs/queue";
import { sweepStorage } from "./jobs/sweep-storage";
import { Channel } from "./live/channel";
import { Rooms } from "./desk/room";
import { SetUps } from "./desk/set-ups";
import { Events } from "./live/events";
import { Streams } from "./live/streams";
import { openLog } from "./log";
import { Playback } from "./playback/playback";
import { eraser, type Erase } from "./recordings/erase";
import { Library } from "./recordings/library";
import { Posters } from "./recordings/posters";
import { Takes, type WholeTake } from "./recordings/takes";
import type { Settings } from "./settings";
import { openStorage } from "./storage/open";
import type { Storage } from "./storage/storage";
import { Figures } from "./viewing/figures";
import { Folds } from "./viewing/folds";
import { Spans } from "./viewing/spans";
import { Workspaces } from "./workspaces/workspaces";

/** Somebody of the sample, whom one may sign in as with one press. */
export interface DemoPerson {
  name: string;
  email: string;
  role: string;
  password: string;
}

/** Everything that a request may need, wired once per process. */
export interface Runtime {
  settings: Settings;
  log: Logger;
  db: Database;
  storage: Storage;
  access: AccessFacts;
  sessions: Sessions;
  computers: Computers;
  /** where a request comes from, for limits */
  addressOf: AddressOf;
  accounts: Accounts;
  workspaces: Workspaces;
  takes: Takes;
  editing: Editing;
  drafts: Drafts;
  looks: Looks;
  proposals: Proposals;
  rooms: Rooms;
  setUps: SetUps;
  ingest: Ingest;
  playback: Playback;
  library: Library;
  posters: Posters;
  /** removes a recording for good, whoever asks */
  erase: Erase;
  viewers: Viewers;
  comments: Comments;
  reactions: Reactions;
  asks: Asks;
  invites: Invites;
  sayings: Sayings;
  limits: DeedLimits;
  inbox: Inbox;
  events: Events;
  streams: Streams;
  folds: Folds;
  spans: Spans;
  figures: Figures;
  /** who was asked and who came */
  people(recordingId: string, ask: Ask, now: number): Promise<People>;
  /** the people of the sample; none where it is not loaded */
  demo: DemoPerson[];
  close(): Promise<void>;
}

/** Connects to the database at `databaseUrl`, migrates it, and starts the job workers. */
export async function openRuntime(settings: Settings, databaseUrl: string): Promise<Runtime> {
  const log = openLog(settings.logLevel);
  const db = await openDatabase(databaseUrl);
  await settleIn(db);
  const storage = await openStorage(settings.storageUrl);
  const channel = new Channel(databaseUrl, log);
  await channel.open();
  const queue = new Queue(databaseUrl, log, channel);
  const access = new AccessFacts(db, channel);
  const makePosterLater = (recordingId: string) => queue.send("make-poster", { recordingId });
  const events = new Events(db);
  const folds = new Folds(db, log);
  const rooms = new Rooms(db);
  const publishLater = async (recordingId: string) => {
    // What is made ahead stays made, and two would make the same.
    await queue.cancel("prepare", { recordingId });
    await queue.send("publish", { recordingId });
  };
  const editing = new Editing(db, storage, events, log, publishLater, makePosterLater);
  const lookOverLater = (takeId: string) => queue.send("look-over", { takeId });
  const drafts = new Drafts(
    db,
    (recordingId) => queue.send("prepare", { recordingId }),
    (recordingId, edit) => editing.ask(recordingId, edit),
  );
  const completed = async ({ takeId, recordingId, beyond }: WholeTake) => {
    for (const key of beyond) await storage.remove(key);
    await makePosterLater(recordingId);
    await editing.leaveOutBackedUp(takeId);
    await lookOverLater(takeId);
    // What lists show of its figures is told by its length, which it has now.
    folds.soon(recordingId);
  };
  const takes = new Takes(db, access, events, rooms, completed);
  const streams = new Streams(db, channel, log);
  const viewers = new Viewers(db, settings.sessionSecret, events);
  const comments = new Comments(db, events);
  const reactions = new Reactions(db, events);
  const asks = new Asks(db, events);
  const limits = new DeedLimits();
  const sessions = new Sessions(db, settings.sessionSecret, channel);
  const workspaces = new Workspaces(db, sessions);
  const erase = eraser(db, storage, async (recordingId) => {
    await queue.cancel("make-poster", { recordingId });
    await queue.cancel("publish", { recordingId });
    await queue.cancel("prepare", { recordingId });
  });
  /** Nobody waits for it: what cannot be made now is made, or refused, when it is asked for. */
  const prepare = async (recordingId: string, signal: AbortSignal) => {
    const draft = await drafts.of(recordingId);
    if (!draft) return;
    try {
      await editing.prepare(recordingId, shownBy(draft.history).kept, signal);
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      log.debug({ recordingId, why: error.code }, "nothing prepared");
    }
  };
  const handlers: Handlers = {
    "make-poster": ({ recordingId }, signal) => makePoster(db, storage, recordingId, signal),
    publish: ({ recordingId }, signal) => editing.run(recordingId, signal),
    prepare: ({ recordingId }, signal) => prepare(recordingId, signal),
    "look-over": ({ takeId }, signal) => lookOver({ db, storage, log }, takeId, signal),
    "clear-deleted": () => clearDeleted(db, erase),
    "sweep-storage": async () => {
      await clearEdges(db);
      const removed = await sweepStorage(db, storage);
      if (removed > 0) log.warn({ removed }, "objects without a row");
    },
  };
  await queue.start(settings.role === "web" ? null : handlers);
  return {
    settings,
    log,
    db,
    storage,
    access,
    takes,
    editing,
    drafts,
    looks: new Looks(db, lookOverLater),
    proposals: new Proposals(db, storage),
    rooms,
    setUps: new SetUps(db),
    events,
    folds,
    streams,
    viewers,
    comments,
    reactions,
    asks,
    limits,
    computers: new Computers(settings.sessionSecret),
    addressOf: addressReader(settings.trustProxy),
    sessions,
    workspaces,
    accounts: new Accounts(db, await SignInLimits.open(db), workspaces),
    ingest: new Ingest(db, storage, takes, makePosterLater),
    playback: new Playback(db, storage, channel),
    library: new Library(db, access, erase),
    posters: new Posters(db, access, makePosterLater),
    erase,
    invites: new Invites(db, events),
    sayings: new Sayings({ viewers, comments, reactions, asks, limits }),
    inbox: new Inbox(db),
    spans: new Spans(db, (recordingId) => folds.soon(recordingId)),
    figures: new Figures(db, folds),
    demo: [],
    people: async (recordingId, ask, now) => peopleOf(db, recordingId, await folds.viewing(recordingId), ask, now),
    async close() {
      await streams.close();
      await folds.close();
      await queue.stop();
      await channel.close();
      await db.close();
    },
  };
}
