import { redirect } from "react-router";
import { SESSION_SECONDS } from "#server/accounts/sessions";
import type { AppContext } from "./context.server";

export const SESSION_COOKIE = "clear_nod_session";

/** Knows a browser without an account again: its answers stay its own. */
export const GUEST_COOKIE = "clear_nod_guest";
/** What a browser shows at links that are not open to everybody. */
export const PASSES_COOKIE = "clear_nod_passes";
/** The same in embeds: kept for each site apart, and in the pages of that site alone. */
export const EMBED_GUEST_COOKIE = "clear_nod_embed_guest";
export const EMBED_PASSES_COOKIE = "clear_nod_embed_passes";
/** Knows a computer again where somebody has signed in before. */
export const COMPUTER_COOKIE = "clear_nod_computer";
const LONG_SECONDS = 400 * 24 * 3600;

/** What a cookie depends on: is it asked in a page of another site, and are answers sent by HTTPS? */
type Site = Pick<AppContext, "embedded"> & { runtime: Pick<AppContext["runtime"], "settings"> };

function cookie(app: Site, name: string, value: string, seconds: number): string {
  const secure = app.runtime.settings.publicUrl.startsWith("https:") ? "; Secure" : "";
  return `${name}=${value}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${seconds}${secure}`;
}

/** Starts a session for a member, and goes on. */
export const enter = async (app: AppContext, personId: string, email: string, to: string) =>
  redirect(to, { headers: await entered(app, personId, email) });

/**
 * Starts a session for a member. A session that was there ends: a new sign-in never inherits an old one.
 * @returns the cookies to be set
 */
export async function entered(app: AppContext, personId: string, email: string): Promise<Headers> {
  if (app.sessionToken) await app.runtime.sessions.end(app.sessionToken);
  const token = await app.runtime.sessions.start(personId, app.agent);
  const computer = app.runtime.computers.remember(app.computerCookie, email);
  const headers = new Headers();
  headers.append("set-cookie", cookie(app, SESSION_COOKIE, token, SESSION_SECONDS));
  headers.append("set-cookie", cookie(app, COMPUTER_COOKIE, computer, LONG_SECONDS));
  return headers;
}

export async function leave(app: AppContext) {
  if (app.sessionToken) await app.runtime.sessions.end(app.sessionToken);
  return redirect("/sign-in", { headers: { "set-cookie": cookie(app, SESSION_COOKIE, "", 0) } });
}

export const passesCookie = (app: Site, passes: string) =>
  app.embedded ? embedCookie(EMBED_PASSES_COOKIE, passes) : cookie(app, PASSES_COOKIE, passes, LONG_SECONDS);

export const guestCookie = (app: Site, key: string) =>
  app.embedded ? embedCookie(EMBED_GUEST_COOKIE, key) : cookie(app, GUEST_COOKIE, key, LONG_SECONDS);

/**
 * A cookie that comes along within pages of other sites, for each of these apart (CHIPS: RFC 6265bis, `Partitioned`).
 * A browser that has none does without: then answers go by a key that the embed keeps.
 */
const embedCookie = (name: string, value: string) =>
  `${name}=${value}; Path=/; HttpOnly; Secure; SameSite=None; Partitioned; Max-Age=${LONG_SECONDS}`;
