import Joi from "joi";
import { LRUCache } from "lru-cache";
import { brandColors, type BrandChoice, type BrandColors, type Scheme } from "#core/brand/colors";
import type { SignedIn } from "../accounts/sessions";
import { requireDeed } from "../access/require";
import type { Database } from "../database/connection";
import { safePicture } from "../pictures/safe-picture";
import type { Channel } from "../live/channel";
import { digestOf, isShortDigest, shortDigest } from "../storage/storage";
import { BRAND, EMBLEM, PUT_EMBLEM } from "./sql";

const color = Joi.string()
  .lowercase()
  .pattern(/^#[\da-f]{6}$/)
  .empty("")
  .default(null)
  .messages({ "string.pattern.base": "A colour is written as six digits, like #2f7d5b." });
export const brandForms = { brand: Joi.object({ accent: color, bar: color }), "no-emblem": Joi.object({}) };

/** The picture by which a workspace is known. Pixels */
export interface Emblem {
  url: string;
  width: number;
  height: number;
}

/** How a workspace's links look. */
export interface Brand {
  name: string;
  emblem: Emblem | null;
  colors: Record<Scheme, BrandColors>;
}

/** As wide as it can stand in a bar, on a screen of two pixels for one. */
const WIDEST = 480;
const KNOWN_MS = 60_000;

/** The emblem and the colours that a workspace's links have. */
export class Brands {
  #known = new LRUCache<string, { brand: Brand | null }>({ max: 5_000, ttl: KNOWN_MS });
  /** Counts what was forgotten, so that an answer on its way does not come in after the news that made it old. */
  #generation = 0;

  constructor(
    private readonly db: Database,
    private readonly channel: Channel,
  ) {
    channel.on("notice", ({ topic, id }) => {
      if (topic === "brand") this.#forget(id);
    });
    channel.on("resumed", () => this.#known.clear());
  }

  /** @returns null where nothing was chosen */
  async of(workspaceId: string): Promise<Brand | null> {
    const known = this.#known.get(workspaceId);
    if (known) return known.brand;
    const generation = this.#generation;
    const { name, accent, bar, emblem } = await this.chosen(workspaceId);
    const choice = { accent, bar };
    const brand =
      emblem || accent || bar
        ? { name, emblem, colors: { light: brandColors(choice, "light"), dark: brandColors(choice, "dark") } }
        : null;
    if (generation === this.#generation) this.#known.set(workspaceId, { brand });
    return brand;
  }

  /** What was chosen, as its form shows it. */
  async chosen(workspaceId: string): Promise<BrandChoice & { name: string; emblem: Emblem | null }> {
    type Row = BrandChoice & { name: string; digest: string | null; width: number; height: number };
    const [row] = await this.db.rows<Row>(BRAND, [workspaceId]);
    if (!row) return { name: "", accent: null, bar: null, emblem: null };
    const { name, accent, bar, digest, width, height } = row;
    return { name, accent, bar, emblem: digest === null ? null : { url: `/emblems/${digest}`, width, height } };
  }

  /** @throws {Problem} 403 for those who may not */
  async choose(member: SignedIn, { accent, bar }: BrandChoice): Promise<void> {
    requireDeed(member, "manage");
    await this.db.models.Workspace.update({ accent, bar }, { where: { id: member.workspaceId } });
    await this.#changed(member.workspaceId);
  }

  /** @throws {Problem} 403 for those who may not; as `safePicture` */
  async putEmblem(member: SignedIn, sent: Uint8Array): Promise<void> {
    requireDeed(member, "manage");
    const { bytes, width, height } = await safePicture(sent, "webp", { within: WIDEST }, member.id);
    await this.db.rows(PUT_EMBLEM, [member.workspaceId, shortDigest(digestOf(bytes)), width, height, bytes]);
    await this.#changed(member.workspaceId);
  }

  /** @throws {Problem} 403 for those who may not */
  async dropEmblem(member: SignedIn): Promise<void> {
    requireDeed(member, "manage");
    await this.db.models.Emblem.destroy({ where: { workspaceId: member.workspaceId } });
    await this.#changed(member.workspaceId);
  }

  /** @returns the emblem of this name, as WebP; null where there is none */
  async emblem(digest: string): Promise<Buffer | null> {
    const [row] = isShortDigest(digest) ? await this.db.rows<{ bytes: Buffer }>(EMBLEM, [digest]) : [];
    return row?.bytes ?? null;
  }

  async #changed(workspaceId: string): Promise<void> {
    this.#forget(workspaceId);
    await this.channel.tell({ topic: "brand", id: workspaceId });
  }

  #forget(workspaceId: string): void {
    this.#generation++;
    this.#known.delete(workspaceId);
  }
}
