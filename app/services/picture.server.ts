import { data } from "react-router";
import type { SignedIn } from "#server/accounts/sessions";
import type { AppContext } from "./context.server";
import { refused } from "./fields.server";

/** A picture that is called by what it is: another one has another name. @throws 404 where there is none */
export const namedPicture = (bytes: Buffer | null) => webp(bytes, "public, max-age=31536000, immutable");

/** One of which it is decided each time that it is asked for whether it is shown. @throws 404 where there is none */
export const askedPicture = (bytes: Buffer | null) => webp(bytes, "private, no-cache");

function webp(bytes: Buffer | null, kept: string): Response {
  if (!bytes) throw data({ error: "There is nothing here that you can open." }, { status: 404 });
  return new Response(new Uint8Array(bytes), { headers: { "content-type": "image/webp", "cache-control": kept } });
}

/** Takes a picture from somebody who is signed in: the body is the file. */
export async function takePicture(
  { member, runtime, address }: AppContext,
  request: Request,
  put: (member: SignedIn, sent: Uint8Array) => Promise<void>,
) {
  if (!member) return data({ error: "You are signed out. Sign in, then try again." }, { status: 401 });
  try {
    await runtime.limits.take("picture", { viewer: member.id, address });
    await put(member, new Uint8Array(await request.arrayBuffer()));
    return { error: null };
  } catch (problem) {
    return refused(problem);
  }
}
