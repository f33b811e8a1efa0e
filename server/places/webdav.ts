import { randomUUID } from "node:crypto";
import { askPlace, counted, expectDone, isGone, within, type Asker } from "./asked";
import type { Destination, FilmToSend, Sending, Standing, Way } from "./way";

const NO_LEAVE = "it does not let us, with this name and password";
const NO_FOLDER = "there is no such folder";
const WHYS = { 401: NO_LEAVE, 403: NO_LEAVE, 404: NO_FOLDER, 409: NO_FOLDER, 507: "there is no room" };

/**
 * A folder on a server (WebDAV, RFC 4918): a film is a file there. It comes under another name, and gets its own when
 * all of it is there, so that nobody finds half of one.
 */
export class WebDav implements Way {
  /** @param allows may an address like this be asked? */
  constructor(private readonly allows: (address: string) => boolean) {}

  /** Puts a small file there, and takes it away: some servers know no other way to find out. */
  async check(to: Destination, signal: AbortSignal): Promise<void> {
    const by = this.#asker(to, signal);
    const probe = at(to, `.${randomUUID()}`);
    const put = await askPlace(probe, { method: "PUT", body: "Clear Nod" }, by);
    expectDone(put, "put something there", WHYS);
    expectDone(await askPlace(probe, { method: "DELETE" }, by), "take it away again", WHYS);
  }

  async send(to: Destination, film: FilmToSend, { onProgress, onResume, remote, signal }: Sending): Promise<Standing> {
    const by = this.#asker(to, signal);
    const name = remote ?? film.name;
    const part = `.${film.id}.part`;
    const coming = at(to, part);
    // Whatever becomes of this: what is there of it is known, and taken away again.
    onResume(part);
    const stream = counted(await film.read(0, film.size), onProgress);
    try {
      const body = { stream, length: film.size };
      const put = await askPlace(coming, { method: "PUT", headers: { "content-type": film.type }, body }, by);
      expectDone(put, "put the file there", WHYS);
      const there = at(to, name);
      const headers = { destination: there.href, overwrite: "T" };
      expectDone(await askPlace(coming, { method: "MOVE", headers }, by), "give the file its name", WHYS);
      return { remote: name, link: there.href, state: "there" };
    } catch (error) {
      // It is a whole film that nobody would look for. Where even this fails, it is tried again with the rest.
      await askPlace(coming, { method: "DELETE" }, by).catch(() => undefined);
      throw error;
    } finally {
      stream.destroy();
    }
  }

  async look(to: Destination, remote: string, signal: AbortSignal): Promise<Standing> {
    const there = at(to, remote);
    const answer = await askPlace(there, { method: "HEAD" }, this.#asker(to, signal));
    if (isGone(answer)) return { remote, link: null, state: "failed", problem: "It is not there any more." };
    return { remote, link: there.href, state: "there" };
  }

  /** A file has nothing besides its name, which stays: links lead to it. */
  async update(): Promise<void> {}

  async remove(to: Destination, remote: string, signal: AbortSignal): Promise<void> {
    const answer = await askPlace(at(to, remote), { method: "DELETE" }, this.#asker(to, signal));
    if (!isGone(answer)) expectDone(answer, "take the file away", WHYS);
  }

  /** Nothing that is begun here goes on; what came of it goes. */
  async giveUp(to: Destination, part: string, signal: AbortSignal): Promise<void> {
    const answer = await askPlace(at(to, part), { method: "DELETE" }, this.#asker(to, signal));
    if (!isGone(answer)) expectDone(answer, "take away what came of it", WHYS);
  }

  #asker({ account, secret }: Destination, signal: AbortSignal): Asker {
    const known = Buffer.from(`${account}:${secret}`).toString("base64");
    return { authorization: account ? `Basic ${known}` : null, allows: this.allows, signal };
  }
}

/** A file in the folder. */
const at = ({ address }: Destination, name: string): URL => within(address, encodeURIComponent(name));
