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
  if (announced > size) throw new Problem(400, "cut-off", "The request ended before all of it had arrived. Send it again.");
  return parts.length === 1 ? parts[0]! : Buffer.concat(parts, size);
}
