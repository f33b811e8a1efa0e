import type { KeptPart, KeptTake, PartName, PartStore } from "../capture/outbox/store";

/** A take that has just begun. */
export const keptTake = (takeId = "t1"): KeptTake => ({
  takeId,
  start: { takeId, source: "screen" },
  registered: { recordingId: "r1", token: "k", link: "", title: "Ridge" },
  stays: false,
  title: "Ridge",
  startedAt: 0,
  expected: null,
  entries: [],
});

/** `n` bytes, to be told from others by their number. */
export const bytes = (n: number) => new Uint8Array(n).fill(n).buffer;

/** The server's "taken". */
export const ok = (body: object = {}) => new Response(JSON.stringify(body), { status: 200 });

/** A store that lives as long as the test. */
export class MemoryStore implements PartStore {
  /** the call that fails, as when the disk is full */
  failing: keyof PartStore | null = null;
  kept = new Map<string, KeptPart>();
  /** parts that the server has and that are here all the same */
  sent = new Set<string>();
  /** how many parts the server does not have yet */
  get unsent(): number {
    return this.kept.size - this.sent.size;
  }
  known = new Map<string, KeptTake>();
  #name = ({ takeId, kind, number }: Pick<KeptPart, "takeId" | "kind" | "number">) => `${takeId} ${kind} ${number}`;
  addTake = async (take: KeptTake) => {
    this.#mayFail("addTake");
    this.known.set(take.takeId, { ...take });
  };
  takes = async () => {
    this.#mayFail("takes");
    return [...this.known.values()];
  };
  removeTake = async (takeId: string) => {
    this.known.delete(takeId);
    for (const [name, part] of this.kept) if (part.takeId === takeId) this.kept.delete(name);
  };
  put = async (part: KeptPart) => {
    this.#mayFail("put");
    this.kept.set(this.#name(part), structuredClone(part));
  };
  get = async (name: Pick<KeptPart, "takeId" | "kind" | "number">) => {
    this.#mayFail("get");
    return this.kept.get(this.#name(name));
  };
  remove = async (name: Pick<KeptPart, "takeId" | "kind" | "number">) => void this.kept.delete(this.#name(name));
  markSent = async (name: Pick<KeptPart, "takeId" | "kind" | "number">) => void this.sent.add(this.#name(name));
  list = async (takeId: string): Promise<PartName[]> =>
    [...this.kept.values()]
      .filter((part) => part.takeId === takeId)
      .map(({ kind, number, bytes }) => ({
        takeId,
        kind,
        number,
        size: bytes.byteLength,
        ...(this.sent.has(this.#name({ takeId, kind, number })) && { sent: true as const }),
      }));

  #mayFail(call: keyof PartStore): void {
    if (this.failing === call) throw new DOMException("no room", "QuotaExceededError");
  }
}
