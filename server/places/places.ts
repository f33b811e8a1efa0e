import { randomUUID } from "node:crypto";
import Joi from "joi";
import { PLACE_KINDS, PLACE_NAME_MAX, type PlaceKind } from "#core/places/kinds";
import { requireDeed } from "../access/require";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import { jsonField, plainText, uuidField } from "../http/fields";
import { isClosedAddress } from "../http/outward";
import { Problem } from "../http/problem";
import type { Seal } from "./seal";
import { ADD_PLACE, GIVE_UP_WAYS, KEEP_PLACE, ORDER_PLACES, PLACES } from "./sql";
import { PlaceProblem, type Destination, type Way } from "./way";

/** A place as its workspace sees it. */
export interface Place {
  id: string;
  kind: PlaceKind;
  name: string;
  address: string;
  account: string;
}

const MOST = 20;
const CHECK_MS = 20_000;

export const placeForms = {
  "add-place": Joi.object({
    kind: Joi.string()
      .valid(...PLACE_KINDS)
      .required(),
    name: plainText
      .trim()
      .min(1)
      .max(PLACE_NAME_MAX)
      .required()
      .messages({ "any.required": "Give it a name.", "string.empty": "Give it a name." }),
    address: Joi.string()
      .trim()
      .max(1_000)
      .required()
      .custom((text: string, helpers) => (isClosedAddress(text) ? text : helpers.error("any.invalid")))
      .messages({
        "any.invalid": "Give a whole address that begins with https://, without a name and a password in it.",
        "any.required": "Give an address.",
        "string.empty": "Give an address.",
      }),
    account: Joi.string().max(200).allow("").default(""),
    password: Joi.string().max(500).allow("").default(""),
  }),
  "order-places": Joi.object({
    order: jsonField("The order", Joi.array().items(uuidField).unique().max(MOST).required(), 2_000),
  }),
  "drop-place": Joi.object({ place: uuidField.required() }),
};

export interface NewPlace {
  kind: PlaceKind;
  name: string;
  address: string;
  account: string;
  password: string;
}

/** The outside places of workspaces. Their owners name them; everybody there who shares outside may send to them. */
export class Places {
  constructor(
    private readonly db: Database,
    private readonly seal: Seal,
    private readonly ways: Record<PlaceKind, Way>,
  ) {}

  of(workspaceId: string): Promise<Place[]> {
    return this.db.rows<Place>(PLACES, [workspaceId]);
  }

  /** @throws {Problem} 403; 422 where nothing can be put there, or there are too many */
  async add(member: SignedIn, { kind, name, address, account, password }: NewPlace): Promise<void> {
    requireDeed(member, "manage");
    try {
      await this.ways[kind].check(
        { address: new URL(address), account, secret: password },
        AbortSignal.timeout(CHECK_MS),
      );
    } catch (error) {
      if (error instanceof PlaceProblem) throw new Problem(422, "no-place", error.message);
      if ((error as Error).name === "TimeoutError")
        throw new Problem(422, "no-place", "Nobody answers at this address.");
      throw error;
    }
    const row = [member.workspaceId, randomUUID(), kind, name, address, account, this.seal.seal(password), MOST];
    const [added] = await this.db.rows(ADD_PLACE, row);
    if (!added) throw new Problem(422, "too-many", `At most ${MOST} places can be named.`);
  }

  /** Has a place that is known, as it is now: the sample's, which may be elsewhere after each start. */
  async keep(workspaceId: string, id: string, { kind, name, address, account, password }: NewPlace): Promise<void> {
    await this.db.rows(KEEP_PLACE, [workspaceId, id, kind, name, address, account, this.seal.seal(password)]);
  }

  /** @throws {Problem} 403 */
  async order(member: SignedIn, ids: readonly string[]): Promise<void> {
    requireDeed(member, "manage");
    await this.db.rows(ORDER_PLACES, [member.workspaceId, ids]);
  }

  /** It is sent to no more; what is there stays, with its links. @throws {Problem} 403 */
  async drop(member: SignedIn, id: string): Promise<void> {
    requireDeed(member, "manage");
    const place = await this.db.models.Place.findOne({ where: { id, workspaceId: member.workspaceId } });
    if (!place) return;
    await this.db.rows(GIVE_UP_WAYS, [id]);
    await place.destroy();
  }

  /** What a way needs to know of it; null where its secret cannot be opened any more. */
  destination({ address, account, secret }: { address: string; account: string; secret: Buffer }): Destination | null {
    const opened = this.seal.open(secret);
    return opened === null ? null : { address: new URL(address), account, secret: opened };
  }
}
