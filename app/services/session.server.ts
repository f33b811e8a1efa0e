import { redirect } from "react-router";
import { SESSION_SECONDS } from "#server/accounts/sessions";
import type { AppContext } from "./context.server";

export const SESSION_COOKIE = "clear_nod_session";

/** Knows a browser without an account again: its answers stay its own. */
export const GUEST_COOKIE = "clear_nod_guest";
/** Knows a computer again where somebody has signed in before. */
export const COMPUTER_COOKIE = "clear_nod_computer";
const LONG_SECONDS = 400 * 24 * 3600;

function cookie(app: AppContext, name: string, value: string, seconds: number): string {
  const secure = app.runtime.settings.publicUrl.startsWith("https:") ? "; Secure" : "";
  return `${name}=${value}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${seconds}${secure}`;
}

/**
 * Starts a session for a member and goes on. A session that was there ends: a new sign-in never inherits an old one.
 */
export async function enter(app: AppContext, personId: string, email: string, to: string) {
  if (app.sessionToken) await app.runtime.sessions.end(app.sessionToken);
  const token = await app.runtime.sessions.start(personId);
  const computer = app.runtime.computers.remember(app.computerCookie, email);
  const headers = new Headers();
  headers.append("set-cookie", cookie(app, SESSION_COOKIE, token, SESSION_SECONDS));
  headers.append("set-cookie", cookie(app, COMPUTER_COOKIE, computer, LONG_SECONDS));
  return redirect(to, { headers });
}

export async function leave(app: AppContext) {
  if (app.sessionToken) await app.runtime.sessions.end(app.sessionToken);
  return redirect("/sign-in", { headers: { "set-cookie": cookie(app, SESSION_COOKIE, "", 0) } });
}

export const guestCookie = (app: AppContext, key: string) => cookie(app, GUEST_COOKIE, key, LONG_SECONDS);
