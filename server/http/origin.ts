import type { IncomingMessage } from "node:http";
import { Problem } from "./problem";

const SAFE = new Set(["GET", "HEAD", "OPTIONS"]);

/**
 * Refuses requests that change something and come from another site's page: the `Origin` must be our own, or
 * `Sec-Fetch-Site` must say so. Cookies are SameSite=Lax besides. Programs without a browser send neither header.
 * @throws {Problem} 403
 */
export function checkOrigin(req: IncomingMessage, publicUrl: string): void {
  if (SAFE.has(req.method ?? "GET")) return;
  const site = req.headers["sec-fetch-site"];
  const origin = req.headers.origin;
  const foreign = new Problem(403, "foreign-origin", "This request came from another site and was not carried out.");
  if (typeof site === "string" && site !== "same-origin" && site !== "none") throw foreign;
  if (origin !== undefined && origin !== new URL(publicUrl).origin && hostOf(origin) !== req.headers.host)
    throw foreign;
}

function hostOf(origin: string): string | null {
  try {
    return new URL(origin).host;
  } catch {
    return null; // "null" and other opaque origins
  }
}
