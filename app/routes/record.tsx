import Box from "@mui/material/Box";
import { useEffect } from "react";
import { isUuid } from "#server/http/fields";
import { Desk } from "../record/Desk";
import { useRecorder, useRecorderState } from "../record/useRecorder";
import { rememberDesk } from "../record/who";
import { appContext } from "../services/context.server";
import { orNotFound, requireMember } from "../services/guard.server";
import type { Route } from "./+types/record";

export const meta: Route.MetaFunction = () => [{ title: "Ready to record · Clear Nod" }];

export async function loader({ context, url }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const member = requireMember(app, url);
  const takeOf = url.searchParams.get("take-of");
  const [setUps, room, before] = await Promise.all([
    app.runtime.setUps.list(member.id),
    app.runtime.rooms.of(member.workspaceId),
    isUuid(takeOf) ? orNotFound(app.runtime.library.takenBefore(member, takeOf)) : null,
  ]);
  return { setUps, room, before, sharesOutside: member.sharesOutside };
}

export default function Record({ loaderData }: Route.ComponentProps) {
  const recorder = useRecorder();
  const state = useRecorderState(recorder);
  const { setUps, room } = loaderData;
  useEffect(() => rememberDesk({ setUps, room }), [setUps, room]);
  // The server cannot know the devices: the page is drawn in the browser.
  return recorder && state ? (
    <Desk recorder={recorder} state={state} {...loaderData} />
  ) : (
    <Box sx={{ minHeight: 480 }} aria-busy="true" />
  );
}
