import type { IncomingMessage } from "node:http";
import { Problem } from "./problem";

export interface BodyLimits {
  /** bytes */
  most: number;
  /** how long the whole of it may take to arrive */
  withinMs: number;
}

/**
 * Reads a request's body into memory, never more than is allowed and never for longer. What is refused is not read on;
 * the answer closes the connection.
 * @throws {Problem} 413 when it is larger, whether or not the length was announced; 408 when it is slower; 400 when it
 * ends early
 */
export function readBody(req: IncomingMessage, { most, withinMs }: BodyLimits): Promise<Buffer> {
  const tooLarge = () => new Problem(413, "too-large", `At most ${most} bytes are taken here.`, { limit: most });
  const cutOff = () => new Problem(400, "cut-off", "The request ended before all of it had arrived. Send it again.");
  if (Number(req.headers["content-length"] ?? 0) > most) return Promise.reject(tooLarge());
  return new Promise((done, failed) => {
    const parts: Buffer[] = [];
    let size = 0;
    const settle = (finish: () => void) => {
      clearTimeout(timer);
      req.off("data", take).off("end", end).off("error", lost).off("close", lost);
      finish();
    };
    const refuse = (problem: Problem) =>
      settle(() => {
        req.pause();
        failed(problem);
      });
    const timer = setTimeout(
      () => refuse(new Problem(408, "too-slow", "The request took too long to arrive. Send it again.")),
      withinMs,
    );
    const take = (part: Buffer) => {
      size += part.length;
      if (size > most) refuse(tooLarge());
      else parts.push(part);
    };
    const end = () => settle(() => done(parts.length === 1 ? parts[0]! : Buffer.concat(parts, size)));
    // The other side is gone: nobody hears the answer, and nothing is taken.
    const lost = () => settle(() => failed(cutOff()));
    req.on("data", take).on("end", end).on("error", lost).on("close", lost);
  });
}
