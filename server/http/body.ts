import type { IncomingMessage } from "node:http";
import { Problem } from "./problem";

/**
 * Reads a request's body into memory, never more than `limit` bytes.
 * @throws {Problem} 413 when it is larger, whether or not the length was announced
 */
export async function readBody(req: IncomingMessage, limit: number): Promise<Buffer> {
  const tooLarge = () => new Problem(413, "too-large", `At most ${limit} bytes are taken here.`, { limit });
  const announced = Number(req.headers["content-length"] ?? 0);
  if (announced > limit) throw tooLarge();
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of req as AsyncIterable<Buffer>) {
    size += part.length;
    if (size > limit) throw tooLarge();
    parts.push(part);
  }
  if (announced > size)
    throw new Problem(400, "cut-off", "The request ended before all of it had arrived. Send it again.");
  return parts.length === 1 ? parts[0]! : Buffer.concat(parts, size);
}

/** The same for a request of the Fetch standard, as text. @throws {Problem} 413 */
export async function readLimited(request: Request, limit: number): Promise<string> {
  const tooLarge = () => new Problem(413, "too-large", `At most ${limit} bytes are taken here.`, { limit });
  if (Number(request.headers.get("content-length") ?? 0) > limit) throw tooLarge();
  const parts: Uint8Array[] = [];
  let size = 0;
  for await (const part of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    size += part.length;
    if (size > limit) throw tooLarge();
    parts.push(part);
  }
  return Buffer.concat(parts).toString("utf8");
}
