import { parseFragment, writeFragment, type Anchor } from "./fragment";

/** A comment as it leaves and enters. */
export interface AnnotatedComment extends Anchor {
  id: string;
  /** the comment that it replies to */
  replyTo: string | null;
  author: string;
  body: string;
  createdAt: string;
  editedAt: string | null;
}

const CONTEXT = "http://www.w3.org/ns/anno.jsonld";
const MEDIA_FRAGMENTS = "http://www.w3.org/TR/media-frags/";

/**
 * Comments as an annotation page. `source` is the address of the recording.
 * Source: W3C Web Annotation Data Model (2017), 3.1, 4.2.1, 5; replies are annotations whose target is an annotation.
 */
export function toAnnotationPage(source: string, comments: readonly AnnotatedComment[]) {
  return {
    "@context": CONTEXT,
    type: "AnnotationPage",
    items: comments.map((c) => ({
      "@context": CONTEXT,
      id: `urn:uuid:${c.id}`,
      type: "Annotation",
      motivation: c.replyTo ? "replying" : "commenting",
      creator: { type: "Person", name: c.author },
      created: c.createdAt,
      ...(c.editedAt && { modified: c.editedAt }),
      body: { type: "TextualBody", value: c.body, format: "text/plain" },
      target: c.replyTo
        ? `urn:uuid:${c.replyTo}`
        : { source, selector: { type: "FragmentSelector", conformsTo: MEDIA_FRAGMENTS, value: writeFragment(c) } },
    })),
  };
}

/** This is no annotation file. The message says so to whoever chose it. */
export class AnnotationError extends Error {}

/**
 * What is taken from an annotation: its author is only a name here, and is told as such. A reply has no moment of its
 * own; `replyTo` is what the file calls the comment that it replies to.
 */
export type ReadComment = Pick<AnnotatedComment, "id" | "replyTo" | "author" | "body"> & Anchor;

/**
 * Reads an annotation, a list, a page or a collection with its first page. What is no comment on a moment is counted,
 * not guessed at.
 * @throws {AnnotationError} when it is none of these
 */
export function readAnnotations(json: unknown): { comments: ReadComment[]; skipped: number } {
  const items = itemsOf(json, 1);
  const comments: ReadComment[] = [];
  for (const item of items) {
    const comment = readOne(item);
    if (comment) comments.push(comment);
  }
  return { comments, skipped: items.length - comments.length };
}

type Json = Record<string, unknown>;
const isJson = (value: unknown): value is Json => typeof value === "object" && value !== null && !Array.isArray(value);

/** @param pages how many pages may still be opened: a collection names its first one, and a page names none */
function itemsOf(json: unknown, pages: number): unknown[] {
  if (Array.isArray(json)) return json;
  if (isJson(json)) {
    if (Array.isArray(json.items)) return json.items;
    if (pages > 0 && isJson(json.first)) return itemsOf(json.first, pages - 1);
    if (has(json.type, "Annotation")) return [json];
  }
  throw new AnnotationError("This is no Web Annotation, and no page or collection of them.");
}

function readOne(item: unknown): ReadComment | null {
  if (!isJson(item) || !has(item.type, "Annotation")) return null;
  const body = typeof item.bodyValue === "string" ? item.bodyValue : textOf(item.body);
  if (!body?.trim()) return null;
  const target: unknown = Array.isArray(item.target) ? item.target[0] : item.target;
  const creator: unknown = Array.isArray(item.creator) ? item.creator[0] : item.creator;
  const base = {
    id: typeof item.id === "string" ? item.id : "",
    author: isJson(creator) && typeof creator.name === "string" ? creator.name : "",
    body,
  };
  if (has(item.motivation, "replying") && typeof target === "string")
    return { ...base, replyTo: target, at: 0, until: null };
  const anchor = anchorOf(target);
  return anchor && { ...base, replyTo: null, ...anchor };
}

function textOf(body: unknown): string | null {
  for (const part of Array.isArray(body) ? body : [body])
    if (isJson(part) && has(part.type, "TextualBody") && typeof part.value === "string") return part.value;
  return null;
}

function anchorOf(target: unknown): Anchor | null {
  if (typeof target === "string") return parseFragment(target.split("#")[1] ?? "");
  if (!isJson(target)) return null;
  for (const selector of Array.isArray(target.selector) ? target.selector : [target.selector]) {
    if (isJson(selector) && has(selector.type, "FragmentSelector") && typeof selector.value === "string")
      return parseFragment(selector.value);
  }
  return typeof target.id === "string" ? parseFragment(target.id.split("#")[1] ?? "") : null;
}

const has = (types: unknown, wanted: string) => types === wanted || (Array.isArray(types) && types.includes(wanted));
