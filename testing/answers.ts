import type { KnownRecording } from "../server/access/facts";
import type { SignedIn } from "../server/accounts/sessions";
import type { Who } from "../server/answers/viewers";
import { sayForm } from "../server/answers/forms";
import type { Said } from "../server/answers/sayings";
import type { Runtime } from "../server/runtime";
import { feedTake } from "./server";

/** A shared recording of 6 s, and what it takes to answer there. */
export async function sharedRecording(runtime: Runtime, sender: SignedIn, title?: string): Promise<KnownRecording> {
  const { recordingId, token } = await feedTake(
    runtime,
    sender,
    "screen",
    { screen: "screen", microphone: "microphone" },
    6,
    title,
  );
  await runtime.sharing.change(sender, recordingId, { audience: "anyone" });
  return (await runtime.access.byToken(token))!;
}

/** Somebody at a recording, as their browser would speak. */
export class Browser {
  who: Who;
  constructor(
    private readonly runtime: Runtime,
    readonly recording: KnownRecording,
    member: SignedIn | null = null,
  ) {
    this.who = { member, guestKey: null, address: "198.51.100.7" };
  }

  async visit({ invite = null, named = true }: { invite?: string | null; named?: boolean } = {}): Promise<this> {
    const { newKey } = await this.runtime.viewers.visit(this.recording, this.who, { invite, named });
    if (newKey) this.who = { ...this.who, guestKey: newKey };
    return this;
  }

  async as(name: string): Promise<this> {
    await this.visit();
    await this.say({ do: "name", name });
    return this;
  }

  /** As the door lets it in: with a name of its own where none was given. */
  async say(said: object): Promise<string> {
    // A page answers what it shows.
    const shown =
      "answer" in said && !("version" in said) ? (await this.runtime.asks.of(this.recording.id)).version || 1 : 0;
    const { value, error } = sayForm.validate(shown ? { ...said, version: shown } : said);
    if (error) throw error;
    return (await this.runtime.sayings.say(this.recording, this.who, value as Said)).id!;
  }

  viewer = () => this.runtime.viewers.find(this.recording, this.who);

  async plays(...spans: [number, number][]): Promise<void> {
    await this.runtime.spans.take(this.recording.id, (await this.viewer())!, {
      batch: crypto.randomUUID(),
      spans: spans.map(([from, to]) => ({ from: from * 1e6, to: to * 1e6, rate: 1 })),
    });
  }
}
