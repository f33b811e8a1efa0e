import { data } from "react-router";
import { sightQuery } from "#server/folders/forms";
import type { Placing } from "#server/folders/contents";
import { orRefused } from "../services/fields.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/sight";

/** Who would gain and who would lose sight by a move, before it is made. */
export async function loader({ context, url }: Route.LoaderArgs) {
  const { member, runtime, address } = context.get(appContext);
  if (!member) throw data({ error: "You are signed out. Sign in, then try again." }, { status: 401 });
  const { value, error } = sightQuery.validate(Object.fromEntries(url.searchParams), { stripUnknown: true });
  if (error) throw data({ error: error.message }, { status: 400 });
  const { folder, ...placing } = value as Placing & { folder?: string };
  const { folderContents, limits } = runtime;
  return orRefused(
    (async () => {
      await limits.take("folder", { viewer: member.id, address });
      const change = folder
        ? await folderContents.sightOfFolder(member, folder, placing.to)
        : await folderContents.sight(member, placing);
      return { change, workspace: member.workspaceName };
    })(),
  );
}
