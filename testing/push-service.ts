import { createDecipheriv, createECDH, createPublicKey, hkdfSync, randomBytes, verify } from "node:crypto";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import type { Pushed } from "#core/notices/push";
import type { PushSubscription } from "#server/database/models/people";

const hkdf = (secret: Buffer, salt: Buffer, info: Buffer | string, bytes: number) =>
  Buffer.from(hkdfSync("sha256", secret, salt, info, bytes));
const base64url = (text: string) => Buffer.from(text, "base64url");

/** What a push service was sent. */
export interface Sent {
  headers: Record<string, string | undefined>;
  body: Buffer;
}

/** A browser that is told something, without the browser: its keys, and what it does with what it is sent. */
export class TellingBrowser {
  #keys = createECDH("prime256v1");
  #auth = randomBytes(16);
  readonly subscription: PushSubscription;

  constructor(endpoint: string) {
    const p256dh = this.#keys.generateKeys("base64url");
    this.subscription = { endpoint, keys: { p256dh, auth: this.#auth.toString("base64url") } };
  }

  /** Outside check: opened by hand, as RFC 8291 (3) and RFC 8188 (2) say, from memory; no library of the sender's. */
  open({ headers, body }: Sent): Pushed {
    if (headers["content-encoding"] !== "aes128gcm") throw new Error("sealed in another way");
    const salt = body.subarray(0, 16);
    const sender = body.subarray(21, 21 + body[20]!);
    const info = Buffer.concat([Buffer.from("WebPush: info\0"), this.#keys.getPublicKey(), sender]);
    const ikm = hkdf(this.#keys.computeSecret(sender), this.#auth, info, 32);
    const key = hkdf(ikm, salt, "Content-Encoding: aes128gcm\0", 16);
    const opener = createDecipheriv("aes-128-gcm", key, hkdf(ikm, salt, "Content-Encoding: nonce\0", 12));
    const sealed = body.subarray(21 + body[20]!);
    opener.setAuthTag(sealed.subarray(-16));
    const padded = Buffer.concat([opener.update(sealed.subarray(0, -16)), opener.final()]);
    return JSON.parse(padded.subarray(0, padded.lastIndexOf(2)).toString("utf8")) as Pushed;
  }
}

/**
 * Who sent it, as a server says of itself (RFC 8292, from memory): what it claims, if `key` signed that.
 * @param key of the server, base64url
 */
export function senderOf({ headers }: Sent, key: string): { aud: string; exp: number; sub: string } {
  const [, token = "", shown] = /^vapid t=([\w.-]+), ?k=([\w-]+)$/.exec(headers.authorization ?? "") ?? [];
  const [head = "", claims = "", sign = ""] = token.split(".");
  const point = base64url(key);
  const jwk = { kty: "EC", crv: "P-256", x: point.toString("base64url", 1, 33), y: point.toString("base64url", 33) };
  const publicKey = createPublicKey({ key: jwk, format: "jwk" });
  const signed = verify(
    "sha256",
    Buffer.from(`${head}.${claims}`),
    { key: publicKey, dsaEncoding: "ieee-p1363" },
    base64url(sign),
  );
  if (!signed || shown !== key) throw new Error("not signed by this server");
  return JSON.parse(base64url(claims).toString("utf8")) as { aud: string; exp: number; sub: string };
}

/** The stand-in of a push service (RFC 8030) on loopback: takes what it is sent, and answers as it is told. */
export async function pushService() {
  const sent: (Sent & { path: string })[] = [];
  let status = 201;
  const server = createServer((req, res) => {
    const parts: Buffer[] = [];
    req.on("data", (part: Buffer) => parts.push(part));
    req.on("end", () => {
      const headers = req.headers as Sent["headers"];
      if (status < 300) sent.push({ path: req.url!, headers, body: Buffer.concat(parts) });
      res.writeHead(status).end();
    });
  });
  await new Promise<void>((up) => server.listen(0, "127.0.0.1", up));
  return {
    sent,
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    /** what it answers from now on */
    set status(next: number) {
      status = next;
    },
    close: () => new Promise<void>((down) => server.close(() => down())),
  };
}
