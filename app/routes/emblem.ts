import { namedPicture, takePicture } from "../services/picture.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/emblem";

/** The emblem of a workspace, for whoever knows what it is called: a page that shows it says so. */
export async function loader({ context, params }: Route.LoaderArgs) {
  return namedPicture(await context.get(appContext).runtime.brands.emblem(params.digest));
}

/** Takes the emblem of the workspace that an owner looks at. */
export async function action({ context, request }: Route.ActionArgs) {
  const app = context.get(appContext);
  return takePicture(app, request, (member, sent) => app.runtime.brands.putEmblem(member, sent));
}
