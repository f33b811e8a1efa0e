import { PASSWORD_MIN } from "../access/password";
import { DESCRIPTION_MAX } from "../title/about";
import { TITLE_MAX } from "../title/title";
import { SCOPES, type Scope } from "./scopes";

type Schema = Record<string, unknown>;

const text: Schema = { type: "string" };
const uuid: Schema = { type: "string", format: "uuid" };
const seconds: Schema = { type: "number", minimum: 0, description: "Seconds, of what is shown." };
const moment: Schema = { type: "string", format: "date-time" };
const orNull = (schema: Schema): Schema => ({ anyOf: [schema, { type: "null" }] });
const list = (items: Schema): Schema => ({ type: "array", items });
const ref = (name: string): Schema => ({ $ref: `#/components/schemas/${name}` });

/** Everything of it is told, and nothing else. */
const object = (properties: Record<string, Schema>, more: Schema = {}): Schema => ({
  type: "object",
  properties,
  required: Object.keys(properties),
  additionalProperties: false,
  ...more,
});

const RECORDING = {
  id: uuid,
  title: text,
  link: { type: "string", format: "uri", description: "Where it is watched. Who may open it is its audience." },
  audience: { enum: ["owner", "named", "folder", "workspace", "anyone"] },
  sender: text,
  mine: { type: "boolean", description: "It was made by whoever the program acts for." },
  createdAt: moment,
  seconds,
};

const SHARING = {
  audience: { enum: ["owner", "named", "folder", "workspace", "anyone"] },
  opensAt: { ...orNull(moment), description: "Null for at once." },
  endsAt: { ...orNull(moment), description: "Null for ever." },
  comments: { type: "boolean", description: "Others may comment." },
  downloads: { type: "boolean", description: "Others may have it as a file." },
  asksNames: { type: "boolean", description: "Guests give a name before they say something." },
};

const SCHEMAS: Record<string, Schema> = {
  Me: object({
    person: object({ id: uuid, name: text, email: text }),
    workspace: object({ id: uuid, name: text }),
    program: object({ name: text, scopes: list({ enum: [...SCOPES] }) }),
  }),
  RecordingInList: object(RECORDING),
  Recordings: object({
    recordings: list(ref("RecordingInList")),
    next: { ...orNull(text), description: "`after` of the next page; null at the end." },
  }),
  Recording: object({
    ...RECORDING,
    description: text,
    tags: list(text),
    chapters: list(object({ at: seconds, title: text })),
    captions: list(object({ from: seconds, to: seconds, text })),
  }),
  Change: {
    type: "object",
    properties: {
      title: { type: "string", minLength: 1, maxLength: TITLE_MAX },
      description: { type: "string", maxLength: DESCRIPTION_MAX },
      tags: { type: "array", items: text, maxItems: 50 },
    },
    minProperties: 1,
    additionalProperties: false,
  },
  Film: object(
    {
      state: { enum: ["none", "waiting", "failed", "ready"] },
      done: { type: "number", minimum: 0, maximum: 1, description: "How much of it is made, while it is on its way." },
      problem: { type: "string", description: "Why it could not be made, for people." },
      size: { type: "integer", description: "Bytes, where it is ready." },
      madeAt: moment,
    },
    { required: ["state"] },
  ),
  Sharing: object({
    ...SHARING,
    hasPassword: { type: "boolean" },
    named: { ...list(text), description: "The names of people who are named." },
    folder: orNull(uuid),
  }),
  SharingChange: {
    type: "object",
    properties: {
      ...SHARING,
      password: { type: "string", maxLength: 200, description: `At least ${PASSWORD_MIN} characters; "" for none.` },
    },
    minProperties: 1,
    additionalProperties: false,
  },
  Placing: {
    type: "object",
    properties: {
      folder: { ...orNull(uuid), description: "Null for no folder." },
      open: { type: "boolean", description: "Drafts are opened to the folder's people." },
    },
    required: ["folder"],
    additionalProperties: false,
  },
  Folders: object({
    folders: list(
      object({ id: uuid, name: text, above: { ...list(text), description: "Those above it, the outermost first." } }),
    ),
  }),
  Figures: object({
    watched: { type: "integer", description: "People who have seen three seconds of it, or more." },
    finished: { type: "integer", description: "Those of them who have seen nearly all of it." },
    averageShare: { type: "number", minimum: 0, maximum: 1 },
    curve: list(
      object({
        at: seconds,
        there: { type: "number", minimum: 0, maximum: 1, description: "The share of those who watched that saw it." },
        again: { type: "number", minimum: 0, description: "How often it was played again, for each who watched." },
      }),
    ),
  }),
  Comments: object({
    comments: list(
      object({
        id: uuid,
        replyTo: orNull(uuid),
        name: text,
        guest: { type: "boolean", description: "Without an account: anybody can call themselves anything." },
        body: { ...orNull(text), description: "Null where it was taken back, and replies stand under it." },
        at: seconds,
        until: orNull(seconds),
        createdAt: moment,
        settled: { type: "boolean" },
      }),
    ),
  }),
  People: object({
    ask: object({
      kind: { enum: ["nothing", "nod", "choice", "words"] },
      question: text,
      choices: list(text),
      due: orNull({ type: "string", format: "date" }),
      closed: { type: "boolean" },
    }),
    people: list(
      object({
        name: { ...orNull(text), description: "Null for a guest who gave no name." },
        member: { type: "boolean" },
        group: { enum: ["answered", "watched", "opened", "not-opened"] },
        overdue: { type: "boolean" },
        answer: {
          ...orNull(
            object(
              {
                kind: { enum: ["nod", "choice", "words", "not-clear"] },
                choice: { type: "integer", description: "Place in `choices`, from 0." },
                words: text,
                at: seconds,
              },
              { required: ["kind"] },
            ),
          ),
        },
        answeredAt: orNull(moment),
        firstOpenedAt: orNull(moment),
        share: { type: "number", minimum: 0, maximum: 1, description: "How much of it they have seen." },
      }),
    ),
    unnamed: { type: "integer", description: "People who asked not to be named: counted, and nothing more." },
    more: { type: "integer", description: "People beyond those who are listed." },
  }),
  Problem: {
    type: "object",
    properties: { error: text, message: { type: "string", description: "A sentence for people." } },
    required: ["error", "message"],
  },
};

const answers = (schema: string, ...problems: (keyof typeof PROBLEMS)[]) => ({
  "200": { description: "As asked", content: { "application/json": { schema: ref(schema) } } },
  ...Object.fromEntries(
    (["401", "403", "429", ...problems] as (keyof typeof PROBLEMS)[]).map((status) => [
      status,
      { description: PROBLEMS[status], content: { "application/json": { schema: ref("Problem") } } },
    ]),
  ),
});

const FILE = { "video/mp4": {}, "audio/mp4": {} };

const PROBLEMS = {
  "400": "The body is no JSON, or `after` is made up",
  "401": "No secret was sent, or it opens nothing any more",
  "403": "The program may not do this",
  "404": "It is not there, or not for whoever the program acts for",
  "413": "The body is too large",
  "415": "The body is not sent as JSON",
  "422": "What was sent is not what is described here",
  "429": "Too much in a minute; `Retry-After` says how long to wait",
};

const id = { name: "id", in: "path", required: true, schema: uuid };
const query = (name: string, schema: Schema, description: string) => ({ name, in: "query", schema, description });

interface Operation {
  operationId: string;
  summary: string;
  scope: Scope | null;
  [more: string]: unknown;
}
const operation = ({ scope, ...rest }: Operation) => ({
  ...rest,
  security: [{ program: scope ? [scope] : [] }],
});

/**
 * What programs can ask of this server.
 * @param url of the server
 * Source: OpenAPI 3.1.0 (spec.openapis.org).
 */
export const apiDocument = (url: string) => ({
  openapi: "3.1.0",
  info: {
    title: "Clear Nod",
    version: "1",
    description:
      "For programs that act for somebody, within one workspace. A program sends its secret as " +
      "`Authorization: Bearer …`; it is made, and ended, on the page of one's account.",
  },
  servers: [{ url }],
  paths: {
    "/api/v1/me": {
      get: operation({
        operationId: "me",
        summary: "For whom the program acts, and what it may",
        scope: null,
        responses: answers("Me"),
      }),
    },
    "/api/v1/recordings": {
      get: operation({
        operationId: "recordings",
        summary: "The library, the newest first, 50 a page",
        scope: "read",
        parameters: [
          query("q", { type: "string", maxLength: 160 }, "A part of a title."),
          query("after", { type: "string", maxLength: 400 }, "`next` of the page before."),
        ],
        responses: answers("Recordings", "400", "422"),
      }),
    },
    "/api/v1/recordings/{id}": {
      parameters: [id],
      get: operation({
        operationId: "recording",
        summary: "A recording of the library",
        scope: "read",
        responses: answers("Recording", "404"),
      }),
      patch: operation({
        operationId: "changeRecording",
        summary: "Another title, description or tags of one's own recording",
        scope: "change",
        requestBody: { required: true, content: { "application/json": { schema: ref("Change") } } },
        responses: answers("Recording", "400", "404", "413", "415", "422"),
      }),
    },
    "/api/v1/recordings/{id}/comments": {
      parameters: [id],
      get: operation({
        operationId: "comments",
        summary: "What was said, in the order of its moments",
        scope: "answers",
        responses: answers("Comments", "404"),
      }),
    },
    "/api/v1/recordings/{id}/people": {
      parameters: [id],
      get: operation({
        operationId: "people",
        summary: "Who watched and answered one's own recording",
        scope: "answers",
        responses: answers("People", "404"),
      }),
    },
    "/api/v1/recordings/{id}/figures": {
      parameters: [id],
      get: operation({
        operationId: "figures",
        summary: "How one's own recording was watched",
        scope: "answers",
        responses: answers("Figures", "404"),
      }),
    },
    "/api/v1/recordings/{id}/sharing": {
      parameters: [id],
      get: operation({
        operationId: "sharing",
        summary: "Who may open one's own recording, and with what",
        scope: "share",
        responses: answers("Sharing", "404"),
      }),
      patch: operation({
        operationId: "changeSharing",
        summary: "The same another way; what is not named stays as it is",
        scope: "share",
        requestBody: { required: true, content: { "application/json": { schema: ref("SharingChange") } } },
        responses: answers("Sharing", "400", "404", "413", "415", "422"),
      }),
    },
    "/api/v1/recordings/{id}/folder": {
      parameters: [id],
      put: operation({
        operationId: "place",
        summary: "Puts one's own recording into a folder, or out of all",
        scope: "share",
        requestBody: { required: true, content: { "application/json": { schema: ref("Placing") } } },
        responses: answers("Sharing", "400", "404", "413", "415", "422"),
      }),
    },
    "/api/v1/recordings/{id}/film": {
      parameters: [id],
      get: operation({
        operationId: "film",
        summary: "Where a recording stands as one file",
        scope: "read",
        responses: answers("Film", "404"),
      }),
      post: operation({
        operationId: "makeFilm",
        summary: "Has one's own recording made as one file, of what is published now",
        scope: "change",
        responses: answers("Film", "404"),
      }),
    },
    "/api/v1/recordings/{id}/film/file": {
      parameters: [id],
      get: operation({
        operationId: "filmFile",
        summary: "The file, whole or in parts (`Range`)",
        scope: "read",
        responses: {
          ...answers("Film", "404"),
          "200": { description: "All of it", content: FILE },
          "206": { description: "The part that was asked for", content: FILE },
        },
      }),
    },
    "/api/v1/folders": {
      get: operation({
        operationId: "folders",
        summary: "Folders into which something can be put, 20 at the most",
        scope: "read",
        parameters: [query("q", { type: "string", maxLength: 160 }, "A part of the name.")],
        responses: answers("Folders", "422"),
      }),
    },
  },
  components: {
    securitySchemes: {
      program: {
        type: "http",
        scheme: "bearer",
        description: `The secret of a program. What it may do: ${SCOPES.join(", ")}.`,
      },
    },
    schemas: SCHEMAS,
  },
});
