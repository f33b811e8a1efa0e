import type { IncomingMessage } from "node:http";
import { inHand } from "./in-hand";
import { Problem } from "./problem";

export interface BodyLimits {
  /** bytes */
  most: number;
  /** how long the whole of it may take to arrive */
  withinMs: number;
}

/** A body of which nothing comes for so long is not waited for. */
const IDLE_MS = 15_000;

/**
 * Reads a request's body into memory, never more than is allowed and never for longer. What is refused is not read on;
 * the answer closes the connection.
 * @param one whose body it is: all that one sends at once is bounded
 * @throws {Problem} 413 when it is larger, whether or not the length was announced; 408 when it is slower, or stands
 * still; 400 when it ends early; 503 where too much is on its way
 */
export function readBody(req: IncomingMessage, { most, withinMs }: BodyLimits, one: string): Promise<Buffer> {
  const tooLarge = () => new Problem(413, "too-large", `At most ${most} bytes are taken here.`, { limit: most });
  const cutOff = () => new Problem(400, "cut-off", "The request ended before all of it had arrived. Send it again.");
  if (Number(req.headers["content-length"] ?? 0) > most) return Promise.reject(tooLarge());
  return new Promise((done, failed) => {
    const parts: Buffer[] = [];
    let size = 0;
    const settle = (finish: () => void) => {
      clearTimeout(timer);
      clearTimeout(idle);
      inHand.give(one, size);
      req.off("data", take).off("end", end).off("error", lost).off("close", lost);
      finish();
    };
    const refuse = (problem: Problem) =>
      settle(() => {
        req.pause();
        failed(problem);
      });
    const tooSlow = () => refuse(new Problem(408, "too-slow", "The request took too long to arrive. Send it again."));
    const timer = setTimeout(tooSlow, withinMs);
    const idle = setTimeout(tooSlow, IDLE_MS);
    const take = (part: Buffer) => {
      idle.refresh();
      if (size + part.length > most) return refuse(tooLarge());
      try {
        inHand.take(one, part.length);
      } catch (problem) {
        return refuse(problem as Problem);
      }
      size += part.length;
      parts.push(part);
    };
    const end = () => settle(() => done(parts.length === 1 ? parts[0]! : Buffer.concat(parts, size)));
    // The other side is gone: nobody hears the answer, and nothing is taken.
    const lost = () => settle(() => failed(cutOff()));
    req.on("data", take).on("end", end).on("error", lost).on("close", lost);
  });
}
