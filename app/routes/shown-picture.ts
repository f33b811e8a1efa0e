import { isUuid } from "#server/http/fields";
import { appContext } from "../services/context.server";
import { orRefused } from "../services/fields.server";
import { askedPicture } from "../services/picture.server";
import type { Route } from "./+types/shown-picture";

/** A picture that is on what is published, for whoever may watch that. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const { subject, runtime } = context.get(appContext);
  const { id } = await orRefused(runtime.access.require(subject, "watch", params.token));
  return askedPicture(isUuid(params.picture) ? await runtime.pictures.shown(id, params.picture) : null);
}
