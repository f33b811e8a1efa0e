import { createCipheriv, createDecipheriv, hkdfSync, randomBytes } from "node:crypto";

/** AES-256-GCM (NIST SP 800-38D): 12 bytes that are new each time, 16 that prove it. */
const CIPHER = "aes-256-gcm";
const [NONCE, PROOF] = [12, 16];

/** Secrets of other servers, which have to be told to them as they are: sealed where they are kept. */
export class Seal {
  readonly #key: Buffer;

  /** @param purpose what is sealed so is opened so, and in no other way */
  constructor(secret: string, purpose: string) {
    this.#key = Buffer.from(hkdfSync("sha256", secret, "", purpose, 32));
  }

  seal(text: string): Buffer {
    const nonce = randomBytes(NONCE);
    const cipher = createCipheriv(CIPHER, this.#key, nonce);
    const sealed = Buffer.concat([cipher.update(text, "utf8"), cipher.final()]);
    return Buffer.concat([nonce, cipher.getAuthTag(), sealed]);
  }

  /** @returns null where it was sealed with another secret, or changed since */
  open(sealed: Buffer): string | null {
    const nonce = sealed.subarray(0, NONCE);
    try {
      const decipher = createDecipheriv(CIPHER, this.#key, nonce);
      decipher.setAuthTag(sealed.subarray(NONCE, NONCE + PROOF));
      return decipher.update(sealed.subarray(NONCE + PROOF), undefined, "utf8") + decipher.final("utf8");
    } catch {
      return null;
    }
  }
}
