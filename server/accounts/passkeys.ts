import {
  generateAuthenticationOptions,
  generateRegistrationOptions,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
  type AuthenticationResponseJSON,
  type RegistrationResponseJSON,
} from "@simplewebauthn/server";
import { createHmac, randomBytes } from "node:crypto";
import { isIP } from "node:net";
import Joi from "joi";
import type { Logger } from "pino";
import { UniqueConstraintError } from "sequelize";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import { currentField, type Account } from "./account";
import { oneMore } from "./one-more";
import type { SignedIn } from "./sessions";
import { PASSKEY, PASSKEYS, PUT_CHALLENGE, USE_CHALLENGE, USE_PASSKEY } from "./sql";

const MOST = 20;
/** COSE algorithms: EdDSA, ES256, RS256 (IANA COSE registry, from memory). */
const ALGORITHMS = [-8, -7, -257];

const encoded = (most: number) =>
  Joi.string()
    .pattern(/^[\w-]+$/)
    .max(most);
const idField = encoded(1_400).required();
/** What browsers make of credentials (WebAuthn 3, 5.1): the rest of it is not read. */
const credential = (response: Joi.PartialSchemaMap) =>
  Joi.object({
    id: idField,
    rawId: idField,
    type: Joi.string().valid("public-key").required(),
    response: Joi.object({ clientDataJSON: encoded(4_000).required(), ...response }).required(),
    clientExtensionResults: Joi.object().unknown().default({}),
  }).required();

/** What pages send about passkeys. */
export const passkeyForm = Joi.alternatives().try(
  Joi.object({ do: Joi.valid("begin").required() }),
  Joi.object({
    do: Joi.valid("enter").required(),
    response: credential({
      authenticatorData: encoded(4_000).required(),
      signature: encoded(4_000).required(),
      userHandle: encoded(100),
    }),
  }),
  Joi.object({ do: Joi.valid("begin-add").required(), current: currentField }),
  Joi.object({
    do: Joi.valid("add").required(),
    response: credential({
      attestationObject: encoded(8_000).required(),
      transports: Joi.array().items(Joi.string().max(20)).max(8).default([]),
    }),
  }),
);
export type PasskeyDeed =
  | { do: "begin" }
  | { do: "enter"; response: AuthenticationResponseJSON }
  | { do: "begin-add"; current: string }
  | { do: "add"; response: RegistrationResponseJSON };

export const passkeyForms = { "end-passkey": Joi.object({ passkey: idField }) };

export interface PasskeyLine {
  id: string;
  /** the browser in which it was made */
  name: string;
  madeAt: string;
  usedAt: string | null;
}

/**
 * Passkeys (WebAuthn): somebody signs in by what their computer, telephone or key proves, and types nothing. Each asks
 * its person first, by a finger, a face or a number of its own (user verification): so it stands for a password.
 */
export class Passkeys {
  /** Browsers make them for names only, not for numbers of computers. */
  readonly offered: boolean;
  readonly #host: string;
  readonly #origin: string;

  constructor(
    private readonly parts: { db: Database; account: Account; log: Logger },
    private readonly settings: { publicUrl: string; sessionSecret: string },
  ) {
    const { hostname, origin } = new URL(settings.publicUrl);
    this.#host = hostname;
    this.#origin = origin;
    this.offered = isIP(hostname.replace(/^\[|\]$/g, "")) === 0;
  }

  of(personId: string): Promise<(PasskeyLine & { transports: string[] })[]> {
    return this.parts.db.rows(PASSKEYS, [personId]);
  }

  /**
   * What a browser needs to make one.
   * @throws {Problem} 422 where it is not their password, 429 after many wrong ones
   */
  async beginAdding(member: SignedIn, current: string, address: string) {
    await this.parts.account.requirePassword(member, current, address);
    return generateRegistrationOptions({
      rpName: "Clear Nod",
      rpID: this.#host,
      userID: new TextEncoder().encode(member.id),
      userName: member.email,
      userDisplayName: member.name,
      challenge: await this.#challenge(member.id),
      excludeCredentials: await this.of(member.id),
      authenticatorSelection: { residentKey: "required", userVerification: "required" },
      supportedAlgorithmIDs: ALGORITHMS,
    });
  }

  /** Takes one that was made. @param name of the browser @throws {Problem} 422 where it proves nothing */
  async add(member: SignedIn, response: RegistrationResponseJSON, name: string): Promise<void> {
    const { credential } = await this.#proved(async () => {
      const { verified, registrationInfo } = await verifyRegistrationResponse({
        response,
        ...this.#expected(member.id),
        supportedAlgorithmIDs: ALGORITHMS,
      });
      return verified ? registrationInfo : null;
    });
    const { id, publicKey, counter, transports = [] } = credential;
    const { Passkey } = this.parts.db.models;
    const made = { id, personId: member.id, publicKey: Buffer.from(publicKey), counter, transports, name };
    const words = `At most ${MOST} passkeys can be yours. Remove one first.`;
    try {
      await oneMore(this.parts.db, member.id, { of: Passkey, most: MOST, words }, (transaction) =>
        Passkey.create(made, { transaction }),
      );
    } catch (cause) {
      if (!(cause instanceof UniqueConstraintError)) throw cause;
      throw new Problem(409, "passkey-taken", "This passkey is in use already.");
    }
    await this.parts.account.tellOfChange(member, `You can sign in by a passkey from now on: it was made in ${name}.`);
  }

  /** From now on it opens nothing. */
  async end(member: SignedIn, id: string): Promise<void> {
    const ended = await this.parts.db.models.Passkey.destroy({ where: { id, personId: member.id } });
    if (ended > 0) await this.parts.account.tellOfChange(member, "A passkey of your account was removed.");
  }

  /** What a browser needs to show one, whosever it is. */
  async begin() {
    return generateAuthenticationOptions({
      rpID: this.#host,
      challenge: await this.#challenge(null),
      userVerification: "required",
    });
  }

  /** @returns who it is @throws {Problem} 401 where nobody is known by it, or it proves nothing */
  async enter(response: AuthenticationResponseJSON): Promise<{ personId: string; email: string }> {
    const { db } = this.parts;
    type Row = { publicKey: Buffer; counter: number; transports: string[]; personId: string; email: string };
    const [known] = await db.rows<Row>(PASSKEY, [response.id]);
    if (!known) throw unknown();
    const { publicKey, counter, transports, personId, email } = known;
    const { newCounter } = await this.#proved(async () => {
      const { verified, authenticationInfo } = await verifyAuthenticationResponse({
        response,
        ...this.#expected(null),
        credential: { id: response.id, publicKey: new Uint8Array(publicKey), counter, transports },
      });
      return verified ? authenticationInfo : null;
    });
    const [used] = await db.rows(USE_PASSKEY, [response.id, newCounter]);
    if (!used) throw unknown();
    return { personId, email };
  }

  #expected(personId: string | null) {
    return {
      expectedOrigin: this.#origin,
      expectedRPID: this.#host,
      expectedChallenge: async (challenge: string) => {
        const rows = await this.parts.db.rows(USE_CHALLENGE, [this.#hash(challenge), personId]);
        return rows.length > 0;
      },
      requireUserVerification: true,
    };
  }

  /** The library throws for everything that does not fit, and means by it that nothing was proved. */
  async #proved<T>(verify: () => Promise<T | null>): Promise<T> {
    const proved = await verify().catch((error: unknown) => {
      this.parts.log.info({ err: error }, "a passkey proved nothing");
      return null;
    });
    if (!proved) throw new Problem(422, "not-proved", "This passkey has not proved that it is you. Try again.");
    return proved;
  }

  async #challenge(personId: string | null): Promise<Uint8Array<ArrayBuffer>> {
    const challenge = new Uint8Array(randomBytes(32));
    await this.parts.db.rows(PUT_CHALLENGE, [this.#hash(Buffer.from(challenge).toString("base64url")), personId]);
    return challenge;
  }

  #hash(challenge: string): Buffer {
    return createHmac("sha256", this.settings.sessionSecret).update(`challenge ${challenge}`).digest();
  }
}

const unknown = () =>
  new Problem(401, "no-passkey", "Nobody is known here by this passkey. Sign in with your password.");
