import { createECDH, ECDH, hkdfSync } from "node:crypto";
import Joi from "joi";
import type { Logger } from "pino";
import webPush from "web-push";
import { PUSH_WITHIN_MS, type Pushed } from "#core/notices/push";
import type { Database } from "../database/connection";
import type { PushSubscription } from "../database/models/people";
import { jsonField, uuidField } from "../http/fields";
import { isClosedAddress, sendOutward } from "../http/outward";
import type { Settings } from "../settings";
import { BROWSERS, FORGET_PUSH, PUT_PUSH } from "./sql";

const WITHIN_MS = 10_000;
/** So many browsers of somebody are told, those first that were used last. */
const MOST_BROWSERS = 10;
const CURVE = "prime256v1";
/** How many points the curve has (FIPS 186-4, D.1.2.3). */
const ORDER = BigInt("0xffffffff00000000ffffffffffffffffbce6faada7179e84f3b9cac2fc632551");
/** This browser is not to be told any more, or will not take it from us: RFC 8030 (7.3) and RFC 8292 (4.2). */
const GONE = new Set([401, 403, 404, 410]);

const closed = (text: string, { error }: Joi.CustomHelpers) => (isClosedAddress(text) ? text : error("any.invalid"));
const point = (text: string, { error }: Joi.CustomHelpers) => {
  try {
    ECDH.convertKey(text, CURVE, "base64url");
    return text;
  } catch {
    return error("any.invalid");
  }
};
const subscription = Joi.object({
  endpoint: Joi.string().max(1_000).required().custom(closed),
  keys: Joi.object({
    p256dh: Joi.string().length(87).required().custom(point),
    auth: Joi.string()
      .pattern(/^[\w-]{22}$/)
      .required(),
  }).required(),
}).messages({ "*": "This is nothing by which a browser is told." });

export const pushForms = {
  push: Joi.object({ subscription: jsonField("This", subscription, 2_000) }),
  "no-push": Joi.object({}),
};
/** A browser has shown what it was told. */
export const shownForm = Joi.object({ id: uuidField.required() });

/**
 * Tells people what is new in their browsers (Web Push): encrypted for them (RFC 8291), and signed by this server
 * (RFC 8292). A browser is told as long as its session lasts.
 */
export class Push {
  /** by which browsers know this server again, base64url */
  readonly publicKey: string;
  readonly #privateKey: string;

  constructor(
    private readonly parts: { db: Database; log: Logger; allows: (address: string) => boolean },
    private readonly settings: Pick<Settings, "sessionSecret" | "mailFrom">,
  ) {
    const keys = createECDH(CURVE);
    keys.setPrivateKey(privateKeyOf(settings.sessionSecret));
    this.publicKey = keys.getPublicKey("base64url");
    this.#privateKey = keys.getPrivateKey("base64url").padStart(43, "A");
  }

  /**
   * The browser of a session is told from now on, and whoever was told there before is not.
   * @param session its name, hexadecimal
   */
  async start(session: string, { endpoint, keys }: PushSubscription): Promise<void> {
    const { db } = this.parts;
    await db.sequelize.transaction(async (transaction) => {
      await db.rows(FORGET_PUSH, [[endpoint]], transaction);
      await db.rows(PUT_PUSH, [session, JSON.stringify({ endpoint, keys })], transaction);
    });
  }

  async end(session: string): Promise<void> {
    await this.parts.db.rows(PUT_PUSH, [session, null]);
  }

  /** Tells all browsers of somebody. @returns whether one of them can be reached */
  async tell(personId: string, pushed: Pushed): Promise<boolean> {
    const { db, log } = this.parts;
    const browsers = await db.rows<{ push: PushSubscription }>(BROWSERS, [personId, MOST_BROWSERS]);
    const answers = await Promise.all(
      browsers.map(async ({ push }) => {
        try {
          return { push, status: await this.#send(push, JSON.stringify(pushed)) };
        } catch (err) {
          log.warn({ err, host: new URL(push.endpoint).host }, "a browser was not told");
          return { push, status: 0 };
        }
      }),
    );
    const gone = answers.filter(({ status }) => GONE.has(status)).map(({ push }) => push.endpoint);
    if (gone.length > 0) await db.rows(FORGET_PUSH, [gone]);
    return answers.some(({ status }) => status >= 200 && status < 300);
  }

  async #send(push: PushSubscription, words: string): Promise<number> {
    const { mailFrom } = this.settings;
    const vapidDetails = {
      subject: `mailto:${mailFrom}`,
      publicKey: this.publicKey,
      privateKey: this.#privateKey,
    };
    const options = { vapidDetails, TTL: PUSH_WITHIN_MS / 1000, contentEncoding: "aes128gcm" } as const;
    const { headers, body } = webPush.generateRequestDetails(push, words, options);
    const { status } = await sendOutward(
      new URL(push.endpoint),
      { headers, body: body! },
      { withinMs: WITHIN_MS, mostBytes: 200, allows: this.parts.allows },
    );
    return status;
  }
}

/** The same in every process, and after every start: of 64 bits more than it needs, so that none is likelier. */
function privateKeyOf(secret: string): Buffer {
  const bytes = Buffer.from(hkdfSync("sha256", secret, "", "what browsers are told", 40));
  const scalar = (BigInt(`0x${bytes.toString("hex")}`) % (ORDER - 1n)) + 1n;
  return Buffer.from(scalar.toString(16).padStart(64, "0"), "hex");
}
