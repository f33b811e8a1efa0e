import type { Fetch } from "./answer";

/** So long may pass without a byte in either direction before a request counts as lost. */
const IDLE_MS = 15_000;

/**
 * As `fetch`, with an end: a connection that is there and carries nothing, as behind a wall or a sleeping access point,
 * is given up. `fetch` does not tell how much of a body has gone; XMLHttpRequest does.
 * @throws {TypeError} as `fetch` does where there is no answer
 */
export const patientFetch: Fetch = (url, { method = "GET", body, headers, signal }) =>
  new Promise((answered, lost) => {
    const request = new XMLHttpRequest();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const giveUp = () => request.abort();
    const moved = () => {
      clearTimeout(timer);
      timer = setTimeout(giveUp, IDLE_MS);
    };
    request.open(method, url);
    request.responseType = "arraybuffer";
    new Headers(headers).forEach((value, name) => request.setRequestHeader(name, value));
    request.upload.onprogress = moved;
    request.onprogress = moved;
    request.onload = () => {
      const { status } = request;
      // As the Fetch standard has it: these have no body.
      const bytes = [204, 205, 304].includes(status) ? null : (request.response as ArrayBuffer);
      const id = request.getResponseHeader("request-id");
      const told = new Headers(id === null ? [] : [["request-id", id]]);
      answered(new Response(bytes, { status, statusText: request.statusText, headers: told }));
    };
    const none = () => lost(new TypeError(`No answer came from ${url}.`));
    request.onerror = none;
    request.onabort = none;
    request.onloadend = () => {
      clearTimeout(timer);
      signal?.removeEventListener("abort", giveUp);
    };
    if (signal?.aborted) return none();
    signal?.addEventListener("abort", giveUp);
    moved();
    request.send(body as XMLHttpRequestBodyInit | null | undefined);
  });
