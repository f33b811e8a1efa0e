import { namedPicture, takePicture } from "../services/picture.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/portrait";

/** What stands for somebody, for whoever knows what it is called: a page that shows it says so. */
export async function loader({ context, params }: Route.LoaderArgs) {
  return namedPicture(await context.get(appContext).runtime.portraits.bytes(params.digest));
}

/** Takes a portrait of whoever is signed in. */
export async function action({ context, request }: Route.ActionArgs) {
  const app = context.get(appContext);
  return takePicture(app, request, (member, sent) => app.runtime.portraits.put(member, sent));
}
