import type { Logger } from "pino";
import type { Transaction } from "sequelize";
import { KEPT_MS } from "#core/access/access";
import type { Ask } from "#core/answers/kinds";
import { shownBy } from "#core/recipe/history";
import { AccessFacts } from "./access/facts";
import { Passes } from "./access/passes";
import { Asks } from "./answers/asks";
import { CommentPages } from "./answers/comment-pages";
import { Comments } from "./answers/comments";
import { Inbox } from "./answers/inbox";
import { Invites, PEOPLE_CHANGED } from "./answers/invites";
import { DeedLimits } from "./deed-limits";
import { peopleOf, type People } from "./answers/people";
import { Reactions } from "./answers/reactions";
import { Sayings } from "./answers/sayings";
import { Viewers } from "./answers/viewers";
import { Account } from "./accounts/account";
import { Accounts } from "./accounts/accounts";
import { Computers } from "./accounts/computers";
import { Leaving } from "./accounts/leaving";
import { Passkeys } from "./accounts/passkeys";
import { Portraits } from "./accounts/portraits";
import { Programs } from "./accounts/programs";
import { SignInLimits } from "./accounts/limits";
import { Sessions } from "./accounts/sessions";
import { Starts } from "./accounts/starts";
import { openDatabase, type Database } from "./database/connection";
import { settleIn } from "./database/moved";
import { addressReader, isLoopback, type AddressOf } from "./http/address";
import { Drafts } from "./editing/drafts";
import { clearEdges } from "./editing/edges";
import { BringIn } from "./editing/bring-in";
import { Editing } from "./editing/editing";
import { Looks, lookOver } from "./editing/looks";
import { Proposals } from "./editing/proposals";
import { Problem } from "./http/problem";
import { Ingest } from "./ingest/ingest";
import { clearDeleted } from "./jobs/clear-deleted";
import { makePoster } from "./jobs/make-poster";
import { Queue, type Handlers } from "./jobs/queue";
import { Goes } from "./jobs/turns";
import { sweepStorage } from "./jobs/sweep-storage";
import { Channel } from "./live/channel";
import { Rooms } from "./desk/room";
import { SetUps } from "./desk/set-ups";
import { Events } from "./live/events";
import { FolderContents } from "./folders/contents";
import { Feeds } from "./folders/feeds";
import { Films } from "./films/films";
import { Folders } from "./folders/folders";
import { Hooks } from "./hooks/hooks";
import { isPublicAddress } from "./http/outward";
import { FolderPeople } from "./folders/people";
import { Streams } from "./live/streams";
import { openLog } from "./log";
import { carrierOf } from "./mail/carrier";
import { Post } from "./mail/post";
import { Metrics } from "./metrics";
import { Teller } from "./notices/teller";
import { Everything } from "./mine/everything";
import { Push } from "./notices/push";
import { Wishes } from "./notices/wishes";
import { Places } from "./places/places";
import { Seal } from "./places/seal";
import { Sendings } from "./places/sendings";
import { FilmChannel } from "./places/channel";
import { WebDav } from "./places/webdav";
import { Playback } from "./playback/playback";
import { Discarded } from "./recordings/discarded";
import { eraser, removeMedia, type Erase, type RemoveLater } from "./recordings/erase";
import { Library } from "./recordings/library";
import { Retention } from "./retention/retention";
import { suppress, Suppressions } from "./editing/suppress";
import { Pictures } from "./editing/pictures";
import { Revisions } from "./editing/revisions";
import { Posters } from "./recordings/posters";
import { Takes, type WholeTake } from "./recordings/takes";
import { Doors } from "./sharing/doors";
import { Reminders } from "./sharing/remind";
import { Sender } from "./sharing/send";
import { Sharing } from "./sharing/sharing";
import type { Settings } from "./settings";
import { openStorage } from "./storage/open";
import type { Storage } from "./storage/storage";
import { Figures } from "./viewing/figures";
import { Folds } from "./viewing/folds";
import { Spans } from "./viewing/spans";
import { Brands } from "./workspaces/brands";
import { Sites } from "./workspaces/sites";
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
  /** what whoever runs it may know of it */
  metrics: Metrics;
  db: Database;
  storage: Storage;
  access: AccessFacts;
  sessions: Sessions;
  computers: Computers;
  /** where a request comes from, for limits */
  addressOf: AddressOf;
  accounts: Accounts;
  /** accounts that begin with a letter */
  starts: Starts;
  workspaces: Workspaces;
  sites: Sites;
  /** how the links of a workspace look */
  brands: Brands;
  takes: Takes;
  editing: Editing;
  drafts: Drafts;
  bringIn: BringIn;
  revisions: Revisions;
  looks: Looks;
  proposals: Proposals;
  rooms: Rooms;
  setUps: SetUps;
  ingest: Ingest;
  playback: Playback;
  library: Library;
  retention: Retention;
  posters: Posters;
  /** recordings as one file */
  films: Films;
  /** outside places of workspaces, and films at them */
  places: Places;
  sendings: Sendings;
  pictures: Pictures;
  /** removes a recording for good, whoever asks */
  erase: Erase;
  /** takes that were thrown away */
  discarded: Discarded;
  viewers: Viewers;
  comments: Comments;
  commentPages: CommentPages;
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
  /** what somebody changes of their own account */
  account: Account;
  /** what stands for people beside their words */
  portraits: Portraits;
  /** the end of accounts */
  leaving: Leaving;
  /** what is somebody's, to take away */
  everything: Everything;
  passkeys: Passkeys;
  /** what acts for people, and is let in by a secret */
  programs: Programs;
  /** addresses that are told what happens */
  hooks: Hooks;
  folders: Folders;
  folderPeople: FolderPeople;
  folderContents: FolderContents;
  feeds: Feeds;
  passes: Passes;
  sharing: Sharing;
  doors: Doors;
  sender: Sender;
  post: Post;
  /** how people want to be told what is new */
  wishes: Wishes;
  /** tells them in their browsers */
  push: Push;
  teller: Teller;
  reminders: Reminders;
  /** who was asked and who came */
  people(recordingId: string, ask: Ask, now: number): Promise<People>;
  /** the people of the sample; none where it is not loaded */
  demo: DemoPerson[];
  /** it is about to end: nothing more is to be sent here */
  stopping: boolean;
  close(): Promise<void>;
}

/** Connects to the database at `databaseUrl`, migrates it, and starts the job workers. */
export async function openRuntime(settings: Settings, databaseUrl: string): Promise<Runtime> {
  const log = openLog(settings.logLevel);
  const db = await openDatabase(databaseUrl, {
    connections: settings.databaseConnections,
    directUrl: settings.databaseDirectUrl,
  });
  await settleIn(db);
  const storage = await openStorage(settings.storageUrl);
  const channel = new Channel(settings.databaseDirectUrl ?? databaseUrl, log);
  await channel.open();
  const queue = new Queue(databaseUrl, log, channel);
  const access = new AccessFacts(db, channel);
  const makePosterLater = (recordingId: string) => queue.send("make-poster", { recordingId });
  const events = new Events(db);
  const folds = new Folds(db, log);
  const rooms = new Rooms(db);
  const publications = new Goes(db, "publications", (recordingId, behind) =>
    queue.send("publish", { recordingId }, { behind }),
  );
  const filming = new Goes(db, "films", (recordingId, behind) => queue.send("film", { recordingId }, { behind }));
  const publishLater = async (recordingId: string) => {
    // What is made ahead stays made, and two would make the same.
    await queue.cancel("prepare", { recordingId });
    await publications.ask(recordingId);
  };
  const suppressions = new Suppressions(db, (takeId) => queue.send("suppress", { takeId }));
  const shown = (recordingId: string, transaction: Transaction) => queue.follow(transaction, "shown", { recordingId });
  const editing = new Editing(db, storage, events, log, suppressions, publishLater, shown);
  const lookOverLater = (takeId: string) => queue.send("look-over", { takeId });
  const looks = new Looks(db, lookOverLater);
  const drafts = new Drafts(
    db,
    (recordingId) => queue.send("prepare", { recordingId }),
    (recordingId, edit) => editing.ask(recordingId, edit),
  );
  /** What follows from the end of a take. */
  const takeEnded = async ({ takeId, recordingId, beyond }: WholeTake) => {
    await makePosterLater(recordingId);
    await editing.settle({ takeId, recordingId });
    await lookOverLater(takeId);
    await films.renew(recordingId);
    // What lists show of its figures is told by its length, which it has now.
    folds.soon(recordingId);
    for (const key of beyond) await storage.remove(key);
  };
  const folders = new Folders(db, channel);
  const playback = new Playback(db, storage, channel);
  const takes = new Takes(
    db,
    access,
    events,
    rooms,
    folders,
    (whole, transaction) => queue.follow(transaction, "take-ended", whole),
    (takeId) => playback.grew(takeId),
  );
  const streams = new Streams(db, channel, log);
  const metrics = new Metrics(db, () => streams.count);
  const viewers = new Viewers(db, settings.sessionSecret, events);
  const comments = new Comments(db, events);
  const reactions = new Reactions(db, events);
  const asks = new Asks(db, events);
  const limits = new DeedLimits();
  const carrier = carrierOf(settings);
  // The sample is on this computer alone, and so is what it can tell.
  const allows = (address: string) => isPublicAddress(address) || (settings.demo && isLoopback(address));
  const push = new Push({ db, log, allows }, settings);
  const post = new Post(
    db,
    carrier,
    settings,
    (mailId) => queue.send("mail", { mailId }),
    async (recordingId) => {
      await events.within(recordingId, () => Promise.resolve({ result: undefined, events: [PEOPLE_CHANGED] }));
    },
    push,
  );
  const sessions = new Sessions(db, settings.sessionSecret, channel);
  const folderPeople = new FolderPeople(db, { folders, post, limits }, settings.publicUrl);
  const workspaces = new Workspaces(db, { sessions, post, folderPeople }, settings.publicUrl);
  const sites = new Sites(db);
  const doors = new Doors({ db, access, folderPeople, post, limits, log }, settings.sessionSecret);
  const account = new Account({ db, sessions, post, limits, log }, settings);
  post.askProof = (personId) => account.askProof(personId);
  const programs = new Programs(db, settings.sessionSecret, account);
  const accounts = new Accounts(db, await SignInLimits.open(db), workspaces, settings.signUp);
  const starts = new Starts({ db, accounts, post, limits, log }, settings);
  const inbox = new Inbox(db);
  const wishes = new Wishes(db, post);
  const teller = new Teller({ db, inbox, wishes, post, log }, settings.publicUrl);
  const hooks = new Hooks({ db, inbox, log, publicUrl: settings.publicUrl, allows });
  const reminders = new Reminders({ db, post }, settings.publicUrl);
  const stopWork = async (recordingId: string) => {
    await queue.cancel("make-poster", { recordingId });
    await queue.cancel("publish", { recordingId });
    await queue.cancel("prepare", { recordingId });
    await queue.cancel("film", { recordingId });
  };
  const removeLater: RemoveLater = (erased, transaction) => queue.follow(transaction, "erased", erased);
  const discarded = new Discarded(db, storage, removeLater);
  const erase = eraser(db, storage, stopWork, removeLater);
  const leaving = new Leaving({ db, storage, access, account, sessions, workspaces, log, stopWork, removeLater });
  const library: Library = new Library(db, access, erase, async (recordingId) => {
    await sendings.tell(recordingId);
    await films.renew(recordingId);
  });
  const pictures = new Pictures(db);
  const films = new Films(
    { db, storage, playback, library, pictures, log },
    {
      later: (recordingId) => filming.ask(recordingId),
      again: (recordingId) => filming.again(recordingId),
      cancel: (recordingId) => queue.cancel("film", { recordingId }),
    },
  );
  const ways = { webdav: new WebDav(allows), channel: new FilmChannel(allows) };
  const places = new Places(db, new Seal(settings.sessionSecret, "places"), ways);
  const sendings = new Sendings({ db, storage, films, places, log }, ways, {
    later: (sendingId) => queue.send("send-out", { sendingId }),
    cancel: (sendingId) => queue.cancel("send-out", { sendingId }),
  });
  const retention = new Retention({ db, access, sessions, queue });
  const figures = new Figures(db, folds);
  const setUps = new SetUps(db);
  const portraits = new Portraits(db, sessions);
  const mine = { db, storage, library, comments, figures, wishes, setUps, portraits };
  const everything = new Everything(mine, settings.publicUrl);
  /** Nobody waits for it: what cannot be made now is made, or refused, when it is asked for. */
  const prepare = async (recordingId: string, signal: AbortSignal) => {
    const draft = await drafts.of(recordingId);
    if (!draft) return;
    try {
      await editing.prepare(recordingId, shownBy(draft.history), signal);
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      log.debug({ recordingId, why: error.code }, "nothing prepared");
    }
  };
  const goOn = async () => {
    await editing.goOn();
    await suppressions.goOn();
    await looks.goOn();
    await films.goOn();
    await sendings.goOn();
  };
  const handlers: Handlers = {
    "take-ended": takeEnded,
    shown: async ({ recordingId }) => {
      await makePosterLater(recordingId);
      await films.renew(recordingId);
    },
    erased: (erased) => removeMedia({ db, storage }, erased),
    "go-on": goOn,
    "make-poster": ({ recordingId }, signal) => makePoster(db, storage, recordingId, signal),
    publish: ({ recordingId }, signal) => publications.go(recordingId, signal, (go) => editing.run(recordingId, go)),
    prepare: ({ recordingId }, signal) => prepare(recordingId, signal),
    "look-over": ({ takeId }, signal) => lookOver({ db, storage, log }, takeId, signal),
    suppress: async ({ takeId }, signal) => {
      // What is measured of it is written beside what is measured of the rest.
      await lookOver({ db, storage, log }, takeId, signal);
      await suppress({ db, storage, log }, takeId, signal);
    },
    film: ({ recordingId }, signal) => films.make(recordingId, signal),
    "send-out": ({ sendingId }, signal) => sendings.run(sendingId, signal),
    mail: ({ mailId }) => post.carry(mailId),
    tell: async (_, signal) => {
      await post.carryForgotten();
      await reminders.remindOfWhatIsDue();
      await teller.tell(signal);
    },
    hooks: async (_, signal) => {
      await hooks.send(signal);
    },
    retain: async (_, signal) => {
      await retention.run(signal);
    },
    "clear-deleted": async () => {
      await takes.endForgotten();
      await clearDeleted(db, erase);
      await discarded.clear(new Date(Date.now() - KEPT_MS));
      await hooks.clear();
      await starts.clear();
    },
    "sweep-storage": async () => {
      await clearEdges(db);
      const removed = await sweepStorage(db, storage);
      if (removed > 0) log.warn({ removed }, "objects without a row");
    },
  };
  await queue.start(settings.role === "web" ? null : handlers);
  if (settings.role !== "web") await goOn();
  return {
    settings,
    log,
    metrics,
    db,
    storage,
    access,
    takes,
    editing,
    drafts,
    bringIn: new BringIn(db, storage, events, rooms, editing, async (recordingId, takeIds) => {
      await queue.send("prepare", { recordingId });
      for (const takeId of takeIds) await lookOverLater(takeId);
    }),
    revisions: new Revisions(db),
    looks,
    proposals: new Proposals(db, storage),
    rooms,
    setUps,
    events,
    folds,
    streams,
    viewers,
    comments,
    commentPages: new CommentPages(db),
    reactions,
    asks,
    limits,
    computers: new Computers(settings.sessionSecret),
    addressOf: addressReader(settings.trustProxy),
    sessions,
    workspaces,
    sites,
    brands: new Brands(db, channel),
    everything,
    passkeys: new Passkeys({ db, account, log }, settings),
    programs,
    hooks,
    accounts,
    starts,
    ingest: new Ingest(db, storage, takes, makePosterLater, (seconds) => metrics.ingestRound(seconds)),
    playback,
    library,
    retention,
    films,
    places,
    sendings,
    pictures,
    posters: new Posters(db, access, storage, makePosterLater),
    erase,
    discarded,
    invites: new Invites(db, events, (recordingId) => access.changed(recordingId)),
    sayings: new Sayings({ viewers, comments, reactions, asks, limits }),
    inbox,
    spans: new Spans(db, (recordingId) => folds.soon(recordingId)),
    figures,
    account,
    portraits,
    leaving,
    folders,
    folderPeople,
    folderContents: new FolderContents(db, folders, access),
    feeds: new Feeds(db, folders, settings.sessionSecret),
    passes: new Passes(settings.sessionSecret),
    sharing: new Sharing(db, access, (recordingId) => films.renew(recordingId)),
    doors,
    sender: new Sender(db, access, post, settings.publicUrl),
    post,
    wishes,
    push,
    teller,
    reminders,
    demo: [],
    stopping: false,
    people: async (recordingId, ask, now) => peopleOf(db, recordingId, await folds.viewing(recordingId), ask, now),
    async close() {
      await streams.close();
      await folds.close();
      await doors.settled();
      await account.settled();
      await starts.settled();
      await leaving.settled();
      await queue.stop();
      carrier.close();
      await channel.close();
      await db.close();
    },
  };
}
