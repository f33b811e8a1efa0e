import { randomUUID } from "node:crypto";
import { Transform } from "node:stream";
import { askOutward, PrivateAddress, type Answered, type Asking } from "../http/outward";
import { PlaceProblem, type Destination, type FilmToSend, type Sending, type Standing, type Way } from "./way";

const LIMITS = { withinMs: 60_000, mostBytes: 2_000 };

/**
 * A folder on a server (WebDAV, RFC 4918): a film is a file there. It comes under another name, and gets its own when
 * all of it is there, so that nobody finds half of one.
 */
export class WebDav implements Way {
  /** @param allows may an address like this be asked? */
  constructor(private readonly allows: (address: string) => boolean) {}

  /** Puts a small file there, and takes it away: some servers know no other way to find out. */
  async check(to: Destination, signal: AbortSignal): Promise<void> {
    const probe = at(to, `.${randomUUID()}`);
    expectDone(await this.#ask(probe, to, { method: "PUT", body: "Clear Nod" }, signal), "put something there");
    expectDone(await this.#ask(probe, to, { method: "DELETE" }, signal), "take it away again");
  }

  async send(to: Destination, film: FilmToSend, { onProgress, remote, signal }: Sending): Promise<Standing> {
    const name = remote ?? film.name;
    const coming = at(to, `.${film.id}.part`);
    let sent = 0;
    const counted = new Transform({
      transform(bytes: Buffer, _, done) {
        onProgress((sent += bytes.length));
        done(null, bytes);
      },
    });
    const source = await film.read(0);
    source.on("error", (error) => counted.destroy(error)).pipe(counted);
    const body = { stream: counted, length: film.size };
    try {
      expectDone(
        await this.#ask(coming, to, { method: "PUT", headers: { "content-type": film.type }, body }, signal),
        "put the file there",
      );
      const there = at(to, name);
      const headers = { destination: there.href, overwrite: "T" };
      expectDone(await this.#ask(coming, to, { method: "MOVE", headers }, signal), "give the file its name");
      return { remote: name, link: there.href, state: "there" };
    } finally {
      source.destroy();
    }
  }

  async look(to: Destination, remote: string, signal: AbortSignal): Promise<Standing> {
    const there = at(to, remote);
    const { status } = await this.#ask(there, to, { method: "HEAD" }, signal);
    if (status === 404 || status === 410)
      return { remote, link: null, state: "failed", problem: "It is not there any more." };
    return { remote, link: there.href, state: "there" };
  }

  /** A file has nothing besides its name, which stays: links lead to it. */
  async update(): Promise<void> {}

  async remove(to: Destination, remote: string, signal: AbortSignal): Promise<void> {
    const answer = await this.#ask(at(to, remote), to, { method: "DELETE" }, signal);
    if (answer.status !== 404 && answer.status !== 410) expectDone(answer, "take the file away");
  }

  async #ask(
    url: URL,
    { account, secret }: Destination,
    { headers = {}, ...asking }: Omit<Asking, "headers"> & Partial<Pick<Asking, "headers">>,
    signal: AbortSignal,
  ): Promise<Answered> {
    const known: Asking["headers"] = account
      ? { authorization: `Basic ${Buffer.from(`${account}:${secret}`).toString("base64")}` }
      : {};
    try {
      return await askOutward(
        url,
        { ...asking, headers: { ...known, ...headers } },
        { ...LIMITS, allows: this.allows, signal },
      );
    } catch (error) {
      signal.throwIfAborted();
      if (error instanceof PrivateAddress) throw new PlaceProblem(error.message);
      throw new PlaceProblem("Nobody answers at this address.", true);
    }
  }
}

/** A file in the folder. */
function at({ address }: Destination, name: string): URL {
  const folder = address.pathname.endsWith("/") ? address : new URL(`${address.href}/`);
  return new URL(encodeURIComponent(name), folder);
}

/** @throws {PlaceProblem} where it was not done */
function expectDone({ status }: Answered, deed: string): void {
  if (status >= 200 && status < 300) return;
  const why =
    status === 401 || status === 403
      ? "it does not let us, with this name and password"
      : status === 507
        ? "there is no room"
        : status === 404 || status === 409
          ? "there is no such folder"
          : `it answers ${status}`;
  throw new PlaceProblem(`The server did not ${deed}: ${why}.`, status >= 500 && status !== 507);
}
