/** What an `Asker` was answered, read to its end. */
export interface Answer {
  status: number;
  /** where it came from in the end */
  url: string;
  text: string;
}
interface Asked {
  form?: Record<string, string>;
  data?: object;
  headers?: Record<string, string>;
  params?: Record<string, string>;
  /** 0 where an answer that leads elsewhere is the answer */
  maxRedirects?: 0;
}
const LEADS = new Set([301, 302, 303, 307, 308]);
const MOST_REDIRECTS = 5;

/**
 * Somebody who asks the server without a page, and keeps the cookies that they are given. The driver's own requests
 * take four times as much of the processor, which matters where there are thousands of them.
 */
export class Asker {
  #cookies = new Map<string, string>();

  /** @param cookies what they come with */
  constructor(
    private readonly base: string,
    cookies: readonly { name: string; value: string }[] = [],
  ) {
    for (const { name, value } of cookies) this.#cookies.set(name, value);
  }

  get(path: string, asked: Asked = {}): Promise<Answer> {
    return this.#ask("GET", path, asked);
  }

  post(path: string, asked: Asked = {}): Promise<Answer> {
    return this.#ask("POST", path, asked);
  }

  async #ask(method: string, path: string, { form, data, headers, params, maxRedirects }: Asked): Promise<Answer> {
    let url = new URL(path, this.base);
    for (const [name, value] of Object.entries(params ?? {})) url.searchParams.set(name, value);
    let body = form ? new URLSearchParams(form) : data && JSON.stringify(data);
    for (let led = 0; ; led++) {
      const cookie = [...this.#cookies].map(([name, value]) => `${name}=${value}`).join("; ");
      const answer = await fetch(url, {
        method,
        headers: { ...headers, cookie },
        ...(body && { body }),
        redirect: "manual",
      });
      const text = await answer.text();
      for (const given of answer.headers.getSetCookie()) this.#keep(given);
      const to = answer.headers.get("location");
      if (!to || !LEADS.has(answer.status) || maxRedirects === 0 || led === MOST_REDIRECTS)
        return { status: answer.status, url: url.href, text };
      [url, method, body] = [new URL(to, url), "GET", undefined];
    }
  }

  #keep(given: string): void {
    const [pair = "", ...attributes] = given.split(";");
    const at = pair.indexOf("=");
    const [name, value] = [pair.slice(0, at), pair.slice(at + 1)];
    if (value === "" || attributes.some((one) => /^\s*max-age=0\s*$/i.test(one))) this.#cookies.delete(name);
    else this.#cookies.set(name, value);
  }
}
