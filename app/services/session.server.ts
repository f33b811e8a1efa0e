import { redirect, type AppLoadContext } from "react-router";
import { SESSION_SECONDS } from "#server/accounts/sessions";

export const SESSION_COOKIE = "clear_nod_session";

function cookie(context: AppLoadContext, value: string, seconds: number): string {
  const secure = context.runtime.settings.publicUrl.startsWith("https:") ? "; Secure" : "";
  return `${SESSION_COOKIE}=${value}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${seconds}${secure}`;
}

/** Starts a session for a member and goes on. A session that was there ends: a new sign-in never inherits an old one. */
export async function enter(context: AppLoadContext, memberId: string, to: string) {
  if (context.sessionToken) await context.runtime.sessions.end(context.sessionToken);
  const token = await context.runtime.sessions.start(memberId);
  return redirect(to, { headers: { "set-cookie": cookie(context, token, SESSION_SECONDS) } });
}

export async function leave(context: AppLoadContext) {
  if (context.sessionToken) await context.runtime.sessions.end(context.sessionToken);
  return redirect("/sign-in", { headers: { "set-cookie": cookie(context, "", 0) } });
}
