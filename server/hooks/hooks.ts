import { createHmac, randomBytes, randomUUID } from "node:crypto";
import Joi from "joi";
import type { Logger } from "pino";
import { HOOK_KEPT_MS, HOOK_KINDS, hookBody, triedAgainAt, wasTaken, type HookKind, type Told } from "#core/api/hooks";
import { oneMore } from "../accounts/one-more";
import type { SignedIn } from "../accounts/sessions";
import { kindOf, type Inbox } from "../answers/inbox";
import type { Database } from "../database/connection";
import { jsonField, uuidField } from "../http/fields";
import { isClosedAddress, isPublicAddress, PrivateAddress, sendOutward, type Answered } from "../http/outward";
import { Problem } from "../http/problem";
import { ANSWERED, CLEAR_DELIVERIES, HOOKS, TAKE_DUE } from "./sql";

const MOST = 10;
/** So many are sent at once, so that one slow address does not keep the others waiting for long. */
const AT_ONCE = 16;
const BATCH = 64;
/** And so many of one address, so that who never answers does not keep the others waiting either. */
const OF_ONE = 4;
const WITHIN_MS = 10_000;
const SAID_BYTES = 500;
const SECRET_PREFIX = "whsec_";

const kindsField = Joi.array()
  .items(Joi.string().valid(...HOOK_KINDS))
  .unique()
  .min(1)
  .required();

export const hookForms = {
  "make-hook": Joi.object({
    url: Joi.string()
      .trim()
      .max(1_000)
      .required()
      .custom((text: string, helpers) => (isClosedAddress(text) ? text : helpers.error("any.invalid")))
      .messages({
        "any.invalid": "Give a whole address that begins with https://, like https://tasks.example.org/told.",
        "any.required": "Give an address.",
        "string.empty": "Give an address.",
        "string.max": "This address is too long.",
      }),
    kinds: jsonField("Of what it is told", kindsField, 200),
  }),
  "try-hook": Joi.object({ hook: uuidField.required() }),
  "end-hook": Joi.object({ hook: uuidField.required() }),
};

/** An address that is told what happens, as its list shows it. */
export interface Hook {
  id: string;
  url: string;
  kinds: HookKind[];
  workspaceName: string;
  madeAt: string;
  /** what was sent last, and what was answered: no status where nobody did */
  last: { triedAt: string; status: number | null; said: string | null; again: string | null } | null;
}

interface Due {
  id: string;
  subject: string | null;
  tries: number;
  url: string;
  secret: Buffer;
  personId: string;
  belongs: boolean;
}

interface Parts {
  db: Database;
  inbox: Inbox;
  log: Logger;
  publicUrl: string;
  /** may an address like this be asked? Otherwise those of the public network alone */
  allows?: (address: string) => boolean;
}

/**
 * Addresses of programs that are told what comes to somebody's inbox: signed, tried again, never of a private network.
 * Source: Standard Webhooks 1.0.0 (standardwebhooks.com), from memory; checked against its reference library.
 */
export class Hooks {
  readonly #allows: (address: string) => boolean;

  constructor(private readonly parts: Parts) {
    this.#allows = parts.allows ?? isPublicAddress;
  }

  of(personId: string): Promise<Hook[]> {
    return this.parts.db.rows<Hook>(HOOKS, [personId]);
  }

  /** In the workspace that the person looks at. @returns what signs, this once @throws {Problem} 422 for too many */
  async make(member: SignedIn, { url, kinds }: { url: string; kinds: readonly HookKind[] }): Promise<string> {
    const { id: personId, workspaceId } = member;
    const secret = randomBytes(32);
    const { db } = this.parts;
    const { Hook } = db.models;
    const sorted = HOOK_KINDS.filter((kind) => kinds.includes(kind));
    const made = { id: randomUUID(), personId, workspaceId, url: new URL(url).href, kinds: sorted, secret };
    const words = `At most ${MOST} addresses can be told. End one first.`;
    await oneMore(db, personId, { of: Hook, most: MOST, words }, (transaction) => Hook.create(made, { transaction }));
    return SECRET_PREFIX + secret.toString("base64");
  }

  async end(personId: string, id: string): Promise<void> {
    await this.parts.db.models.Hook.destroy({ where: { id, personId } });
  }

  /** Sends something now that is about nothing, so that one sees whether it arrives. @throws {Problem} 404 */
  async try(personId: string, id: string): Promise<void> {
    const { db } = this.parts;
    const hook = await db.models.Hook.findOne({ where: { id, personId } });
    if (!hook) throw new Problem(404, "not-found", "This address is not told any more.");
    const made = await db.models.Delivery.create({
      id: randomUUID(),
      hookId: id,
      dueAt: null,
      tries: 1,
      triedAt: new Date(),
    });
    const { url, secret } = hook;
    const told: Told = {
      kind: "test",
      when: new Date().toISOString(),
      recording: null,
      who: null,
      guest: false,
      words: "",
      at: null,
    };
    const { status, text } = await this.#send({ id: made.id, url, secret }, hookBody(told));
    await db.rows(ANSWERED, [made.id, status, text, null]);
  }

  /** Everything that is due. @returns how much was taken by those whom it was sent to */
  async send(signal: AbortSignal): Promise<number> {
    const { db, log } = this.parts;
    let taken = 0;
    for (;;) {
      signal.throwIfAborted();
      const due = await db.rows<Due>(TAKE_DUE, [BATCH, OF_ONE]);
      if (due.length === 0) return taken;
      for (let i = 0; i < due.length; i += AT_ONCE)
        await Promise.all(
          due.slice(i, i + AT_ONCE).map(async (one) => {
            try {
              if (await this.#deliver(one)) taken++;
            } catch (err) {
              // It is due again in two minutes.
              log.error({ err, delivery: one.id }, "not told");
            }
          }),
        );
    }
  }

  /** Removes what was sent long ago. */
  async clear(): Promise<void> {
    await this.parts.db.rows(CLEAR_DELIVERIES, [HOOK_KEPT_MS]);
  }

  async #deliver({ id, subject, tries, url, secret, personId, belongs }: Due): Promise<boolean> {
    const { db } = this.parts;
    const told = belongs && subject ? await this.#told(personId, subject) : null;
    // Taken back meanwhile, or not for them any more: nothing is told.
    if (!told) {
      await db.models.Delivery.destroy({ where: { id } });
      return false;
    }
    const { status, text } = await this.#send({ id, url, secret }, hookBody(told));
    const took = wasTaken(status);
    await db.rows(ANSWERED, [id, status, text, took ? null : triedAgainAt(tries, Date.now())]);
    return took;
  }

  /** What it is now, as far as the person may still see it. */
  async #told(personId: string, subject: string): Promise<Told | null> {
    const { inbox, publicUrl } = this.parts;
    const [one] = await inbox.these(personId, [subject], { readToo: true });
    if (!one) return null;
    const kind = kindOf(one);
    if (!HOOK_KINDS.includes(kind as HookKind)) return null;
    const { title, token, who, guest, words, at, when } = one;
    return {
      kind: kind as HookKind,
      when,
      recording: { title, link: `${publicUrl}/w/${token}` },
      who,
      guest,
      words,
      at,
    };
  }

  async #send(
    { id, url, secret }: { id: string; url: string; secret: Buffer },
    body: string,
  ): Promise<{ status: number | null; text: string }> {
    const timestamp = String(Math.floor(Date.now() / 1000));
    const signature = createHmac("sha256", secret).update(`${id}.${timestamp}.${body}`).digest("base64");
    const headers = {
      "content-type": "application/json",
      "user-agent": "Clear-Nod/1",
      "webhook-id": id,
      "webhook-timestamp": timestamp,
      "webhook-signature": `v1,${signature}`,
    };
    const limits = { withinMs: WITHIN_MS, mostBytes: SAID_BYTES, allows: this.#allows };
    try {
      const { status, text }: Answered = await sendOutward(new URL(url), { headers, body }, limits);
      return { status, text };
    } catch (cause) {
      return { status: null, text: wordsOf(cause) };
    }
  }
}

/** Why nobody answered, without what it tells of the network around this server. */
function wordsOf(cause: unknown): string {
  if (cause instanceof PrivateAddress) return cause.message;
  const { code, name } = cause as NodeJS.ErrnoException;
  if (name === "TimeoutError" || name === "AbortError") return "Nobody answered within ten seconds.";
  if (code === "ENOTFOUND") return "There is no computer of this name.";
  if (code?.startsWith("ERR_TLS") || code?.includes("CERT")) return "Its certificate is not in order.";
  return "The connection could not be made.";
}
