import { redirect, type AppLoadContext } from "react-router";
import { SESSION_SECONDS } from "#server/accounts/sessions";

export const SESSION_COOKIE = "clear_nod_session";

/** Knows a browser without an account again: its answers stay its own. */
export const GUEST_COOKIE = "clear_nod_guest";
/** Knows a computer again where somebody has signed in before. */
export const COMPUTER_COOKIE = "clear_nod_computer";
const LONG_SECONDS = 400 * 24 * 3600;

function cookie(context: AppLoadContext, name: string, value: string, seconds: number): string {
  const secure = context.runtime.settings.publicUrl.startsWith("https:") ? "; Secure" : "";
  return `${name}=${value}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${seconds}${secure}`;
}

/**
 * Starts a session for a member and goes on. A session that was there ends: a new sign-in never inherits an old one.
 */
export async function enter(context: AppLoadContext, personId: string, email: string, to: string) {
  if (context.sessionToken) await context.runtime.sessions.end(context.sessionToken);
  const token = await context.runtime.sessions.start(personId);
  const computer = context.runtime.computers.remember(context.computerCookie, email);
  const headers = new Headers();
  headers.append("set-cookie", cookie(context, SESSION_COOKIE, token, SESSION_SECONDS));
  headers.append("set-cookie", cookie(context, COMPUTER_COOKIE, computer, LONG_SECONDS));
  return redirect(to, { headers });
}

export async function leave(context: AppLoadContext) {
  if (context.sessionToken) await context.runtime.sessions.end(context.sessionToken);
  return redirect("/sign-in", { headers: { "set-cookie": cookie(context, SESSION_COOKIE, "", 0) } });
}

export const guestCookie = (context: AppLoadContext, key: string) => cookie(context, GUEST_COOKIE, key, LONG_SECONDS);
