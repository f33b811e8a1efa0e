import type { Readable } from "node:stream";
import { toAnnotationPage } from "#core/answers/web-annotation";
import type { TrackName } from "#core/media/tracks";
import { startOfTake, takeOf } from "#core/recipe/source-line";
import { SECOND, type Micros } from "#core/time/micros";
import { writeWebVtt } from "#core/time/web-vtt";
import type { Portraits } from "../accounts/portraits";
import type { SignedIn } from "../accounts/sessions";
import type { Comments } from "../answers/comments";
import type { Database } from "../database/connection";
import type { SetUps } from "../desk/set-ups";
import { fileName } from "../http/file-name";
import { Problem } from "../http/problem";
import type { Wishes } from "../notices/wishes";
import type { Library } from "../recordings/library";
import { MissingObject, type Storage } from "../storage/storage";
import type { Figures } from "../viewing/figures";
import type { Consent } from "../sharing/sharing";
import { archiveOf, type ArchiveFile } from "./archive";
import { ASKED, MADE, OPENED, PARTS, SAID, TRACKS } from "./sql";

interface Made {
  id: string;
  token: string;
  title: string;
  workspaceName: string;
  audience: string;
  /** the names of the folder in which it lies, and of those above, the outermost first */
  folders: string[] | null;
  createdAt: string;
  deletedAt: string | null;
  consent: Consent;
}
interface Track {
  id: string;
  recordingId: string;
  position: number;
  name: TrackName;
  initKey: string;
}

/**
 * Everything of one person, to take away: what they made, as it was recorded, with what came back, and what they have
 * said. All of it in formats that others read: JSON, WebVTT, W3C Web Annotation, xAPI, fragmented MP4 (ISO 14496-12).
 */
export class Everything {
  constructor(
    private readonly parts: {
      db: Database;
      storage: Storage;
      library: Library;
      comments: Comments;
      figures: Figures;
      wishes: Wishes;
      setUps: SetUps;
      portraits: Portraits;
    },
    private readonly publicUrl: string,
  ) {}

  /** A ZIP archive, written as it is taken. Destroy it to stop. */
  async of(member: SignedIn): Promise<Readable> {
    const { db } = this.parts;
    const [made, tracks] = await Promise.all([db.rows<Made>(MADE, [member.id]), db.rows<Track>(TRACKS, [member.id])]);
    const tracksOf = new Map<string, Track[]>();
    for (const track of tracks) tracksOf.set(track.recordingId, [...(tracksOf.get(track.recordingId) ?? []), track]);
    return archiveOf([
      text("READ ME.txt", ABOUT_FILES),
      ...this.#ofAccount(member),
      ...this.#ofPortrait(member),
      ...made.flatMap((recording) => this.#ofRecording(recording, tracksOf.get(recording.id) ?? [])),
    ]);
  }

  #ofAccount(member: SignedIn): ArchiveFile[] {
    const { db, wishes, setUps } = this.parts;
    const { id, name, email, memberships } = member;
    return [
      json("account.json", async () => ({
        name,
        email,
        workspaces: memberships.map(({ workspaceName, role }) => ({ name: workspaceName, role })),
        notices: await wishes.of(id),
        setUps: (await setUps.list(id)).map(({ id: _, ...setUp }) => setUp),
      })),
      json("said.json", () => db.rows(SAID, [id])),
      json("opened.json", () => db.rows(OPENED, [id])),
    ];
  }

  #ofPortrait({ portrait }: SignedIn): ArchiveFile[] {
    const { portraits } = this.parts;
    if (!portrait) return [];
    return [
      {
        ...{ name: "portrait.webp", at: new Date(), packs: false },
        read: async function* () {
          const bytes = await portraits.bytes(portrait);
          if (bytes) yield bytes;
        },
      },
    ];
  }

  #ofRecording({ id, token, ...made }: Made, tracks: readonly Track[]): ArchiveFile[] {
    const { db, library, comments, figures } = this.parts;
    const folder = `recordings/${made.createdAt.slice(0, 10)} ${fileName(made.title)} ${id.slice(0, 8)}`;
    const at = new Date(made.createdAt);
    const link = `${this.publicUrl}/w/${token}`;
    return [
      json(`${folder}/recording.json`, async () => {
        const { description, tags } = await library.details(id);
        const { chapters, captions } = await library.written(id);
        return {
          ...{ id, link, ...made, description, tags },
          chapters: chapters.map(({ at, title }) => ({ ...inTake(at), title })),
          captions: captions.map(({ from, to, text }) => ({ ...inTake(from), to: inTake(to).seconds, text })),
        };
      }),
      json(`${folder}/asked.json`, async () => {
        const attributes = ["kind", "question", "choices", "due"];
        const [ask, people] = await Promise.all([
          db.models.Ask.findOne({ where: { recordingId: id }, attributes, raw: true }),
          db.rows(ASKED, [id]),
        ]);
        return { ask, people };
      }),
      {
        ...{ name: `${folder}/captions.vtt`, at, packs: true },
        read: whereThere(async function* () {
          yield writeWebVtt((await library.details(id)).captions);
        }),
      },
      json(`${folder}/comments.json`, async () => toAnnotationPage(link, await comments.toAnnotations(id))),
      {
        ...{ name: `${folder}/viewing.json`, at, packs: true },
        read: whereThere(() => figures.statements(id, link, made.title)),
      },
      ...tracks.map((track) => ({
        ...{ name: `${folder}/take ${track.position} ${track.name}.mp4`, at, packs: false },
        read: whereThere(() => this.#track(track)),
      })),
    ];
  }

  /** A track in one file. */
  async *#track({ id, initKey }: Track): AsyncGenerator<Uint8Array> {
    const { db, storage } = this.parts;
    const keys = await db.rows<{ key: string }>(PARTS, [id]);
    for (const key of [initKey, ...keys.map(({ key }) => key)])
      yield* (await storage.read(key)) as AsyncIterable<Buffer>;
  }
}

/** What is erased while the archive is written ends its files early, and no others. */
const whereThere = <T>(read: () => AsyncIterable<T>) =>
  async function* () {
    try {
      yield* read();
    } catch (problem) {
      if (!(problem instanceof MissingObject || (problem instanceof Problem && problem.status === 404))) throw problem;
    }
  };

/** A moment of the source line, as a moment of one of its takes. */
const inTake = (at: Micros) => ({ take: takeOf(at), seconds: (at - startOfTake(takeOf(at))) / SECOND });

const ABOUT_FILES = `Everything that is yours at Clear Nod.

account.json    your name, your workspaces, how you are told what is new, and your set-ups
said.json       what you have said at recordings: comments, reactions, answers
opened.json     the recordings that you have opened
portrait.webp   your portrait, where you have one
recordings/     a folder for each recording of yours:
  recording.json    what it is called, where it lies, and its chapters and captions, in seconds of each take
  asked.json        what you have asked, who was asked, and what they answered
  captions.vtt      captions as they are shown (WebVTT)
  comments.json     what was said at it (W3C Web Annotation)
  viewing.json      who watched what (xAPI statements)
  take 1 screen.mp4, take 1 microphone.mp4, ...
                    what was recorded, whole and as it was recorded, whatever an edit shows of it
                    (fragmented MP4, ISO/IEC 14496-12). A second camera is camera-2. To put a picture and
                    a voice into one file: ffmpeg -i "take 1 screen.mp4" -i "take 1 microphone.mp4" -c copy out.mp4
`;

const text = (name: string, words: string): ArchiveFile => ({
  ...{ name, at: new Date(), packs: true },
  read: async function* () {
    yield words;
  },
});

const json = (name: string, tell: () => Promise<unknown>): ArchiveFile => ({
  ...{ name, at: new Date(), packs: true },
  read: whereThere(async function* () {
    yield `${JSON.stringify(await tell(), null, 2)}\n`;
  }),
});
