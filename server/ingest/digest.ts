import { webcrypto } from "node:crypto";
import { Problem } from "../http/problem";

/**
 * The SHA-256 of a `Content-Digest` field (RFC 9530: a dictionary of byte sequences, `sha-256=:<base64>:`).
 * @throws {Problem} 400 when there is none
 */
export function readContentDigest(header: string | string[] | undefined): Buffer {
  const match = /(?:^|,)\s*sha-256=:([A-Za-z0-9+/]{43}=):/.exec(
    Array.isArray(header) ? header.join(",") : (header ?? ""),
  );
  if (!match)
    throw new Problem(400, "no-digest", "Send a Content-Digest header with the sha-256 of the body (RFC 9530).");
  return Buffer.from(match[1]!, "base64");
}

/**
 * The SHA-256 of the body, if it is the announced one. Counted beside the event loop: other requests go on meanwhile.
 * @throws {Problem} 422
 */
export async function checkDigest(body: Buffer, announced: Buffer): Promise<Buffer> {
  const digest = Buffer.from(await webcrypto.subtle.digest("SHA-256", body));
  if (!digest.equals(announced))
    throw new Problem(
      422,
      "wrong-digest",
      "The bytes that arrived are not the bytes that were announced. Send them again.",
    );
  return digest;
}

/** The field for a body, for programs that send. */
export const writeContentDigest = (digest: Buffer) => `sha-256=:${digest.toString("base64")}:`;
