import type { AuthenticationResponseJSON, RegistrationResponseJSON } from "@simplewebauthn/server";
import { createHash, generateKeyPairSync, randomBytes, sign, type KeyObject } from "node:crypto";

const head = (major: number, n: number): number[] =>
  n < 24 ? [(major << 5) | n] : n < 256 ? [(major << 5) | 24, n] : [(major << 5) | 25, n >> 8, n & 255];
/** As much of CBOR (RFC 8949) as a passkey says. */
const cbor = {
  int: (n: number) => (n >= 0 ? head(0, n) : head(1, -1 - n)),
  bytes: (bytes: Uint8Array) => [...head(2, bytes.length), ...bytes],
  text: (text: string) => [...head(3, text.length), ...Buffer.from(text)],
  map: (...pairs: number[][][]) => [...head(5, pairs.length), ...pairs.flat(2)],
};
const sha256 = (text: string) => createHash("sha256").update(text).digest();
const base64url = (bytes: Uint8Array) => Buffer.from(bytes).toString("base64url");

/** What of an answer is another way than it should be. */
interface Wrong {
  origin?: string;
  host?: string;
  /** it did not ask its person */
  unverified?: boolean;
}

/** A passkey without a device (WebAuthn 3, 6): a key pair, which signs what it is asked. */
export class Authenticator {
  readonly id = base64url(randomBytes(20));
  #privateKey: KeyObject;
  #point: { x: string; y: string };

  constructor(
    private readonly url: string,
    /** how often it says that it was used; 0: it does not count */
    public counter = 0,
  ) {
    const { privateKey, publicKey } = generateKeyPairSync("ec", { namedCurve: "P-256" });
    this.#privateKey = privateKey;
    this.#point = publicKey.export({ format: "jwk" }) as { x: string; y: string };
  }

  register({ challenge }: { challenge: string }, wrong: Wrong = {}): RegistrationResponseJSON {
    const { x, y } = this.#point;
    const id = Buffer.from(this.id, "base64url");
    const coordinate = (name: number, value: string) => [cbor.int(name), cbor.bytes(Buffer.from(value, "base64url"))];
    const key = cbor.map(
      ...[
        [cbor.int(1), cbor.int(2)],
        [cbor.int(3), cbor.int(-7)],
        [cbor.int(-1), cbor.int(1)],
      ],
      ...[coordinate(-2, x), coordinate(-3, y)],
    );
    const credential = Buffer.concat([Buffer.alloc(16), Buffer.from([0, id.length]), id, Buffer.from(key)]);
    const authData = Buffer.concat([this.#data(wrong, 0x40), credential]);
    const attestation = cbor.map(
      [cbor.text("fmt"), cbor.text("none")],
      [cbor.text("attStmt"), cbor.map()],
      [cbor.text("authData"), cbor.bytes(authData)],
    );
    return {
      ...this.#credential(),
      response: {
        clientDataJSON: base64url(this.#client("webauthn.create", challenge, wrong)),
        attestationObject: base64url(Buffer.from(attestation)),
        transports: ["internal"],
      },
    };
  }

  show({ challenge }: { challenge: string }, wrong: Wrong = {}): AuthenticationResponseJSON {
    const data = this.#data(wrong, 0);
    const client = this.#client("webauthn.get", challenge, wrong);
    const signed = Buffer.concat([data, createHash("sha256").update(client).digest()]);
    return {
      ...this.#credential(),
      response: {
        clientDataJSON: base64url(client),
        authenticatorData: base64url(data),
        signature: base64url(sign("sha256", signed, this.#privateKey)),
      },
    };
  }

  #credential() {
    return { id: this.id, rawId: this.id, type: "public-key" as const, clientExtensionResults: {} };
  }

  /** What the authenticator says: for which host, whether its person was there and asked, and how often it was used. */
  #data({ host = new URL(this.url).hostname, unverified = false }: Wrong, more: number): Buffer {
    const count = Buffer.alloc(4);
    count.writeUInt32BE(this.counter);
    return Buffer.concat([sha256(host), Buffer.from([0x01 | (unverified ? 0 : 0x04) | more]), count]);
  }

  #client(type: string, challenge: string, { origin = new URL(this.url).origin }: Wrong): Buffer {
    return Buffer.from(JSON.stringify({ type, challenge, origin, crossOrigin: false }));
  }
}
