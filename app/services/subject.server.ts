import type { IncomingMessage } from "node:http";
import type { Subject } from "#core/access/access";
import type { SignedIn } from "#server/accounts/sessions";
import { readCookie } from "#server/http/cookies";
import type { Runtime } from "#server/runtime";
import { EMBED_GUEST_COOKIE, EMBED_PASSES_COOKIE, PASSES_COOKIE } from "./session.server";

/** Who asks, for `core/access`: with the personal links that their browser came by, and the passwords that it knew. */
export const subjectOfRequest = (runtime: Runtime, req: IncomingMessage, member: SignedIn | null): Subject => ({
  id: member?.id ?? null,
  memberships: member?.memberships ?? [],
  // Also what an embed was shown: its pictures and sounds come from the same addresses.
  passes: [PASSES_COOKIE, EMBED_PASSES_COOKIE].flatMap((name) =>
    runtime.passes.read(readCookie(req.headers.cookie, name)),
  ),
});

/** Who asks in an embed: nobody whom an account or a personal link names, whatever the browser has elsewhere. */
export const subjectOfEmbed = (runtime: Runtime, req: IncomingMessage): Subject => ({
  id: null,
  memberships: [],
  passes: runtime.passes.read(readCookie(req.headers.cookie, EMBED_PASSES_COOKIE)),
});

/** The key of a guest in an embed: of its cookie, which all embeds of a page share, or else as the embed keeps it. */
export function keyOfEmbed({ headers }: IncomingMessage): string | null {
  const said = headers["clear-nod-guest"];
  return readCookie(headers.cookie, EMBED_GUEST_COOKIE) ?? (typeof said === "string" ? said : null);
}
