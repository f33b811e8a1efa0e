import { createHmac, randomBytes, randomUUID } from "node:crypto";
import Joi from "joi";
import { SCOPES, type Scope } from "#core/api/scopes";
import type { Database } from "../database/connection";
import { jsonField, nameOf, uuidField } from "../http/fields";
import { currentField, type Account } from "./account";
import { oneMore } from "./one-more";
import { signedIn, type SignedIn } from "./sessions";
import { PROGRAM, PROGRAMS } from "./sql";

/** For how many days a program may act; 0 for as long as nobody ends it. */
export const PROGRAM_DAYS = [30, 365, 0] as const;
const MOST = 20;
const DAY_MS = 86_400_000;
/** By this a secret is known as ours where it was left lying about. */
const PREFIX = "clear-nod-";
const SECRET = new RegExp(`^${PREFIX}[\\w-]{43}$`);

const scopesField = Joi.array()
  .items(Joi.string().valid(...SCOPES))
  .unique()
  .min(1)
  .required();

export const programForms = {
  "make-program": Joi.object({
    name: nameOf("the program a name"),
    current: currentField,
    scopes: jsonField("What it may do", scopesField, 200),
    days: Joi.number()
      .valid(...PROGRAM_DAYS)
      .required(),
  }),
  "end-program": Joi.object({ program: uuidField.required() }),
};

/** Something that acts for a person, as its list shows it. */
export interface Program {
  id: string;
  name: string;
  workspaceName: string;
  scopes: Scope[];
  madeAt: string;
  /** when it was last used, to some minutes */
  lastAt: string | null;
  endsAt: string | null;
}

/** A program that has shown its secret, and for whom it acts: in one workspace, and nowhere else. */
export interface ActingFor {
  program: { id: string; name: string; scopes: Scope[] };
  member: SignedIn;
}

/** Programs that act for people. Of their secrets the table has only the HMAC. */
export class Programs {
  constructor(
    private readonly db: Database,
    private readonly secret: string,
    private readonly account: Pick<Account, "requirePassword" | "tellOfChange">,
  ) {}

  /**
   * In the workspace that the person looks at. It goes on when whoever sits at their computer has left: so the password
   * is asked for, and they are told.
   * @returns the secret, this once
   * @throws {Problem} 422 for too many, or a wrong password; 429 after many wrong ones
   */
  async make(
    member: SignedIn,
    { name, scopes, days, current }: { name: string; scopes: readonly Scope[]; days: number; current: string },
    address: string,
  ): Promise<string> {
    await this.account.requirePassword(member, current, address);
    const secret = PREFIX + randomBytes(32).toString("base64url");
    const sorted = SCOPES.filter((scope) => scopes.includes(scope));
    const { id: personId, workspaceId } = member;
    const endsAt = days === 0 ? null : new Date(Date.now() + days * DAY_MS);
    const { Program } = this.db.models;
    const hash = this.#hash(secret);
    const made = { id: randomUUID(), personId, workspaceId, name, scopes: sorted, secret: hash, endsAt };
    const words = `At most ${MOST} programs can act for you. End one first.`;
    await oneMore(this.db, personId, { of: Program, most: MOST, words }, (transaction) =>
      Program.create(made, { transaction }),
    );
    await this.account.tellOfChange(member, `“${name}” can act for you from now on, by an API token.`);
    return secret;
  }

  /** Those that may act for a person, the newest first. */
  of(personId: string): Promise<Program[]> {
    return this.db.rows<Program>(PROGRAMS, [personId]);
  }

  /** From now on it may do nothing more. */
  async end(personId: string, id: string): Promise<void> {
    await this.db.models.Program.destroy({ where: { id, personId } });
  }

  /** Who shows this secret; null for nobody. Asked anew each time, so that what was ended has ended. */
  async shown(secret: string): Promise<ActingFor | null> {
    if (!SECRET.test(secret)) return null;
    type Row = Parameters<typeof signedIn>[0] & { program: ActingFor["program"] };
    const [row] = await this.db.rows<Row>(PROGRAM, [this.#hash(secret)]);
    return row ? { program: row.program, member: signedIn(row, null) } : null;
  }

  #hash(secret: string): Buffer {
    return createHmac("sha256", this.secret).update(`program ${secret}`).digest();
  }
}
