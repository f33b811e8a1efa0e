import { data } from "react-router";
import { isUuid } from "#server/http/fields";
import { appContext } from "../services/context.server";
import { orRefused, refused } from "../services/fields.server";
import { askedPicture } from "../services/picture.server";
import type { Route } from "./+types/pictures";

/** Takes a picture that is to be put on a recording, from whoever may change that: the body is the file. */
export async function action({ context, request, params }: Route.ActionArgs) {
  const { member, runtime, address } = context.get(appContext);
  if (!member) return data({ error: "You are signed out. Sign in, then try again." }, { status: 401 });
  try {
    const { id } = await runtime.access.requireById(member, "change", params.id);
    await runtime.limits.take("picture", { viewer: member.id, address });
    const sent = new Uint8Array(await request.arrayBuffer());
    if (params.picture === "poster") {
      await runtime.posters.take(id, sent, member.id);
      return { error: null, picture: null };
    }
    if (params.picture !== "new") return data({ error: "There is nothing here." }, { status: 404 });
    return { error: null, picture: await runtime.pictures.put(id, sent, member.id) };
  } catch (problem) {
    return refused(problem);
  }
}

/** A picture of a recording, for whoever may change that. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const { member, runtime } = context.get(appContext);
  const { id } = await orRefused(runtime.access.requireById(member, "change", params.id));
  return askedPicture(isUuid(params.picture) ? await runtime.pictures.bytes(id, params.picture) : null);
}
