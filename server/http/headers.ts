import type { ServerResponse } from "node:http";

/**
 * The headers that every answer carries. HTTPS is asked to stay HTTPS where it is used.
 * @param embed its policy says in whose pages it may stand; everything else stands in none
 */
export function setSecurityHeaders(res: ServerResponse, { https, embed }: { https: boolean; embed: boolean }): void {
  res.setHeader("x-content-type-options", "nosniff");
  if (!embed) res.setHeader("x-frame-options", "DENY");
  // The link is a secret: it must not travel to other sites.
  res.setHeader("referrer-policy", "same-origin");
  res.setHeader("cross-origin-opener-policy", "same-origin");
  res.setHeader("cross-origin-resource-policy", "same-origin");
  res.setHeader(
    "permissions-policy",
    "camera=(self), microphone=(self), display-capture=(self), clipboard-write=(self), geolocation=()",
  );
  if (https) res.setHeader("strict-transport-security", "max-age=31536000");
}

/**
 * The content security policy of the recorder's worker, which has one of its own, as every worker that comes over the
 * network does. It alone may run WebAssembly (its sound encoder, in a worker that it makes itself), and it reaches
 * nothing.
 */
export const WORKER_POLICY = ["default-src 'none'", "script-src 'self' 'wasm-unsafe-eval'", "worker-src blob:"].join(
  "; ",
);

/**
 * The policy of workers that look at a camera's picture: what they load makes functions of text, and WebAssembly. They
 * have no page, and reach this server alone.
 */
export const VISION_POLICY = ["default-src 'none'", "script-src 'self' 'unsafe-eval'", "connect-src 'self'"].join("; ");

/** The policy of the worker that listens for pauses: WebAssembly, and this server alone. */
export const SPEECH_POLICY = ["default-src 'none'", "script-src 'self' 'wasm-unsafe-eval'", "connect-src 'self'"].join(
  "; ",
);

/**
 * The content security policy of a page. Scripts run only with the page's own nonce.
 * @param ancestors the pages that may show it in a frame (`host-source`, or a keyword)
 */
export function contentSecurityPolicy(nonce: string, dev: boolean, ancestors: readonly string[]): string {
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}'`,
    // Style elements carry the nonce as well; style attributes (React's `style`) cannot.
    // The development server injects style elements without one.
    dev ? "style-src 'self' 'unsafe-inline'" : `style-src 'self' 'nonce-${nonce}'`,
    "style-src-attr 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "media-src 'self' blob:",
    "worker-src 'self'" + (dev ? " blob:" : ""),
    `connect-src 'self'${dev ? " ws:" : ""}`,
    "font-src 'self'",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    `frame-ancestors ${ancestors.join(" ")}`,
  ].join("; ");
}
