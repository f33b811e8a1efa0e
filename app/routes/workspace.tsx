import { readInvitees } from "#core/answers/invitees";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type Joi from "joi";
import { data, redirect, useFetcher } from "react-router";
import { mayInWorkspace } from "#core/access/access";
import { Problem } from "#server/http/problem";
import {
  chooseForm,
  closeLinkForm,
  inviteToJoinForm,
  newLinkForm,
  newWorkspaceForm,
  outsideForm,
  removeForm,
  roleForm,
} from "#server/workspaces/workspaces";
import { orRefused, readFields, refused } from "../services/fields.server";
import { requireMember } from "../services/guard.server";
import { JoinLinks } from "../workspace/JoinLinks";
import { MembersTable } from "../workspace/MembersTable";
import { roomForm } from "#server/desk/room";
import { unusedForm } from "#server/retention/retention";
import { siteForm } from "#server/workspaces/sites";
import { brandForms } from "#server/workspaces/brands";
import { BrandFold } from "../workspace/BrandFold";
import { placeForms } from "#server/places/places";
import { PlacesFold } from "../workspace/PlacesFold";
import { SitesForm } from "../workspace/SitesForm";
import { WorkspaceSettings } from "../workspace/WorkspaceSettings";
import { UnusedForm } from "../workspace/UnusedForm";
import { RoomForm } from "../workspace/RoomForm";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/workspace";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.name ?? "Workspace"} · Clear Nod` },
];

export async function loader({ context, url }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const member = requireMember(app, url);
  const { workspaces, settings } = app.runtime;
  const [people, links, room, going, outside, sites, chosenBrand, places] = await Promise.all([
    workspaces.people(member),
    workspaces.links(member),
    app.runtime.rooms.of(member.workspaceId, true),
    app.runtime.retention.going(member.workspaceId),
    workspaces.outside(member.workspaceId),
    app.runtime.sites.of(member.workspaceId),
    app.runtime.brands.chosen(member.workspaceId),
    app.runtime.places.of(member.workspaceId),
  ]);
  return {
    me: member.id,
    name: member.workspaceName,
    manages: mayInWorkspace(member, "manage", member.workspaceId),
    people,
    room,
    unusedDays: member.unusedDays,
    going,
    outside,
    sites,
    chosenBrand,
    places,
    mails: app.mails,
    links: links.map((link) => ({ ...link, url: `${settings.publicUrl}/join/${link.token}` })),
  };
}

const FORMS: Record<string, Joi.ObjectSchema> = {
  create: newWorkspaceForm,
  choose: chooseForm,
  link: newLinkForm,
  "close-link": closeLinkForm,
  role: roleForm,
  remove: removeForm,
  room: roomForm,
  unused: unusedForm,
  rename: newWorkspaceForm,
  outside: outsideForm,
  "trust-site": siteForm,
  "drop-site": siteForm,
  invite: inviteToJoinForm,
  ...brandForms,
  ...placeForms,
};

export async function action({ context, request }: Route.ActionArgs) {
  const app = context.get(appContext);
  const { member, runtime, sessionToken } = app;
  if (!member || !sessionToken) return data({ error: "You are signed out. Sign in, then try again." }, { status: 401 });
  const { do: deed, ...fields } = await orRefused(readFields(request));
  const form = Object.hasOwn(FORMS, deed ?? "") ? FORMS[deed!] : null;
  if (!form) return data({ error: "There is nothing of that name to be done." }, { status: 422 });
  const { value, error } = form.validate(fields, { stripUnknown: true });
  if (error) return data({ error: error.message }, { status: 422 });
  const { workspaces, sessions } = runtime;
  try {
    if (deed === "create" || deed === "choose") {
      if (deed === "create") await runtime.limits.take("workspace", { viewer: member.id, address: app.address });
      const id = deed === "create" ? await workspaces.create(member, value.name) : (value.workspace as string);
      if (deed === "choose" && !mayInWorkspace(member, "use", id)) {
        throw new Problem(404, "not-found", "This workspace is not there any more, or not yours.");
      }
      await sessions.choose(sessionToken, id);
      return redirect(deed === "create" ? "/workspace" : "/library");
    }
    if (deed === "link") await workspaces.makeLink(member, value);
    if (deed === "invite") {
      const from = { viewer: member.id, address: app.address };
      await runtime.limits.take("invite", from);
      // One for each who is named, as for every other letter.
      await runtime.limits.take("send", from, Math.max(1, readInvitees(String(value.who)).invitees.length));
      return data({ error: null, invited: await workspaces.invite(member, value) });
    }
    if (deed === "close-link") await workspaces.closeLink(member, value.link);
    if (deed === "role") await workspaces.changeRole(member, value);
    if (deed === "remove") await workspaces.remove(member, value);
    if (deed === "rename") await workspaces.rename(member, value.name);
    if (deed === "outside") await workspaces.setOutside(member, value.outside);
    if (deed === "trust-site") await runtime.sites.trust(member, value.site);
    if (deed === "drop-site") await runtime.sites.drop(member, value.site);
    if (deed === "brand") await runtime.brands.choose(member, value);
    if (deed === "no-emblem") await runtime.brands.dropEmblem(member);
    if (deed === "unused") await runtime.retention.set(member, value);
    if (deed === "add-place") {
      await runtime.limits.take("sendOut", { viewer: member.id, address: app.address });
      await runtime.places.add(member, value);
    }
    if (deed === "order-places") await runtime.places.order(member, value.order);
    if (deed === "drop-place") await runtime.places.drop(member, value.place);
    if (deed === "room") await runtime.rooms.set(member, value);
    return data({ error: null });
  } catch (problem) {
    return refused(problem);
  }
}

export default function WorkspacePage({ loaderData }: Route.ComponentProps) {
  const { name, manages, people, links, me, room, unusedDays, going, outside, sites, chosenBrand, places, mails } =
    loaderData;
  return (
    <Box sx={{ maxWidth: 960, mx: "auto", px: { xs: 1.5, sm: 3 }, py: { xs: 2, md: 4 } }}>
      <Typography variant="h1" sx={{ mb: 2 }}>
        {name}
      </Typography>
      <MembersTable people={people} me={me} manages={manages} workspace={name} />
      {manages && <JoinLinks links={links} mails={mails} />}
      <RoomForm room={room} manages={manages}>
        <UnusedForm days={unusedDays} going={going} manages={manages} />
      </RoomForm>
      {manages && <WorkspaceSettings key={name} name={name} outside={outside} />}
      {manages && <BrandFold brand={chosenBrand} />}
      {manages && <SitesForm sites={sites} />}
      {manages && <PlacesFold places={places} />}
      <Another />
    </Box>
  );
}

/** Rarely wanted, so folded away. */
function Another() {
  const fetcher = useFetcher<{ error: string | null }>();
  return (
    <Box component="details" sx={{ mt: 5 }}>
      <Typography component="summary" sx={{ cursor: "pointer" }}>
        Start another workspace
      </Typography>
      <fetcher.Form method="post" action="/workspace">
        <input type="hidden" name="do" value="create" />
        <Box sx={{ display: "flex", gap: 1.5, mt: 1.5, alignItems: "flex-start", flexWrap: "wrap" }}>
          <TextField
            name="name"
            label="Its name"
            size="small"
            slotProps={{ htmlInput: { maxLength: 80 } }}
            error={Boolean(fetcher.data?.error)}
            helperText={fetcher.data?.error ?? "Its recordings are apart from those here."}
          />
          <Button type="submit" variant="outlined" disabled={fetcher.state !== "idle"}>
            Start
          </Button>
        </Box>
      </fetcher.Form>
    </Box>
  );
}
