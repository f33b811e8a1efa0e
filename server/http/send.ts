import type { IncomingMessage, ServerResponse } from "node:http";
import type { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import type { Problem } from "./problem";

/** Answers with JSON that nobody may cache. */
export function sendJson(res: ServerResponse, status: number, value: unknown): void {
  const body = JSON.stringify(value);
  res.writeHead(status, {
    "content-type": "application/json; charset=utf-8",
    "content-length": Buffer.byteLength(body),
    "cache-control": "no-store",
  });
  res.end(body);
}

/**
 * Answers with a problem. The connection is closed when the body was not read, so that the rest is not sent in vain.
 */
export function sendProblem(req: IncomingMessage, res: ServerResponse, problem: Problem): void {
  if (res.headersSent) return void res.destroy();
  if (!req.complete) res.setHeader("connection", "close");
  const retryAfter = problem.detail.retryAfter;
  if (typeof retryAfter === "number") res.setHeader("retry-after", String(retryAfter));
  sendJson(res, problem.status, { error: problem.code, message: problem.message, ...problem.detail });
}

export const NEVER_CHANGES = "private, max-age=31536000, immutable";

interface Tagged {
  type: string;
  etag: string;
  cacheControl: string;
}

/** Answers with bytes that have an entity tag. Source: RFC 9110, sections 8.8.3, 13.1.2 and 14. */
export function sendBytes(req: IncomingMessage, res: ServerResponse, file: Tagged & { bytes: Buffer }): void {
  const part = begin(req, res, file, file.bytes.length);
  if (part) res.end(req.method === "HEAD" ? undefined : file.bytes.subarray(part.from, part.to + 1));
}

/** The same of what is stored, as it is read: no more than a few pieces of it is in memory. */
export async function sendStored(
  req: IncomingMessage,
  res: ServerResponse,
  file: Tagged & { size: number; read: (part: { from: number; to: number }) => Promise<Readable> },
): Promise<void> {
  const part = begin(req, res, file, file.size);
  if (!part) return;
  if (req.method === "HEAD") return void res.end();
  try {
    await pipeline(await file.read(part), res);
  } catch (error) {
    // Whoever asked has left in the middle; anything else breaks the answer off, so that nobody takes it for whole.
    if ((error as NodeJS.ErrnoException).code !== "ERR_STREAM_PREMATURE_CLOSE") throw error;
  }
}

/** Begins an answer: all of it, or the part that is asked for. @returns null where nothing more is to be sent */
function begin(
  req: IncomingMessage,
  res: ServerResponse,
  { type, etag, cacheControl }: Tagged,
  size: number,
): { from: number; to: number } | null {
  res.setHeader("etag", etag);
  res.setHeader("cache-control", cacheControl);
  res.setHeader("accept-ranges", "bytes");
  const known = req.headers["if-none-match"];
  if (known && known.split(",").some((tag) => tag.trim().replace(/^W\//, "") === etag || tag.trim() === "*")) {
    res.writeHead(304).end();
    return null;
  }
  const range =
    req.headers["if-range"] && req.headers["if-range"] !== etag ? null : parseRange(req.headers.range, size);
  if (range === "unsatisfiable") {
    res.writeHead(416, { "content-range": `bytes */${size}` }).end();
    return null;
  }
  const part = range ?? { from: 0, to: size - 1 };
  if (range) res.setHeader("content-range", `bytes ${part.from}-${part.to}/${size}`);
  res.writeHead(range ? 206 : 200, { "content-type": type, "content-length": part.to - part.from + 1 });
  return part;
}

/** One range of a `Range` header; null when there is none, or several (a server may ignore those). */
export function parseRange(
  header: string | undefined,
  size: number,
): { from: number; to: number } | "unsatisfiable" | null {
  const match = /^bytes=(\d*)-(\d*)$/.exec(header?.trim() ?? "");
  if (!match || (match[1] === "" && match[2] === "")) return null;
  const [first, last] = [match[1]!, match[2]!];
  if (first === "") {
    const count = Math.min(Number(last), size);
    return count === 0 ? "unsatisfiable" : { from: size - count, to: size - 1 };
  }
  const from = Number(first);
  const to = last === "" ? size - 1 : Math.min(Number(last), size - 1);
  if (last !== "" && Number(last) < from) return null;
  return from >= size ? "unsatisfiable" : { from, to };
}
