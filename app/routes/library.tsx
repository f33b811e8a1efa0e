import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, type ReactNode } from "react";
import { data, Form, Link, useNavigation, useRevalidator, useSearchParams, useSubmit } from "react-router";
import { KEPT_DAYS } from "#core/access/access";
import type { Owed } from "#core/answers/owed";
import type { SignedIn } from "#server/accounts/sessions";
import type { Shelf as ShelfOf } from "#server/folders/folders";
import type { LibraryGroup } from "#server/recordings/library";
import { libraryQuery, MOST_COUNTED, type LibraryQuery } from "#server/recordings/library-query";
import type { LibraryRow } from "#server/recordings/rows";
import { LedgerRow } from "../components/LedgerRow";
import { Notice } from "../components/Notice";
import { useRefresh } from "../components/useRefresh";
import { Moving } from "../folders/Moving";
import { Shelf } from "../folders/Shelf";
import { useDeeds } from "../components/useDeeds";
import { useOutbox } from "../record/outbox";
import { HereGroup } from "../record/Outgoing";
import { orNotFound, requireMember } from "../services/guard.server";
import type { Handle } from "./frame";
import { appContext, type AppContext } from "../services/context.server";
import type { Route } from "./+types/library";

export const handle: Handle = { showsNews: true };

export const meta: Route.MetaFunction = () => [{ title: "Library · Clear Nod" }];

export async function loader({ context, url }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const member = requireMember(app, url);
  const { value, error } = libraryQuery.validate(Object.fromEntries(url.searchParams), {
    stripUnknown: true,
  });
  if (error) throw data({ message: error.message }, { status: 400 });
  const query = value as LibraryQuery;
  const { settings } = app.runtime;
  const [found, setUps, shelf] = await Promise.all([
    orNotFound(listed(app, member, query)),
    app.runtime.setUps.list(member.id),
    app.runtime.folders.shelf(member),
  ]);
  return {
    ...found,
    shelf,
    setUps: setUps.map(({ id, name }) => ({ id, name })),
    query,
    base: settings.publicUrl,
    keptDays: KEPT_DAYS,
    unusedGo: member.unusedDays !== null,
  };
}

const SORT_NAMES = { newest: "Newest first", oldest: "Oldest first", title: "By title", longest: "Longest first" };

type Listed = {
  groups: (Omit<LibraryGroup, "owed" | "total"> & { owed: Owed | null; total: number | null })[];
  next: string | null;
};

/** The groups of the ledger, or one list of rows. */
async function listed({ runtime }: AppContext, member: SignedIn, query: LibraryQuery): Promise<Listed> {
  const { show, group, after, sort } = query;
  if (show === "kept" && !group && !after && GROUPED.has(sort)) {
    return { groups: await runtime.library.groups(member, query), next: null };
  }
  const { rows, next } = await runtime.library.page(member, query);
  return { groups: rows.length > 0 ? [{ owed: group, rows, total: null }] : [], next };
}

/** Orders in which the ledger is grouped by what is still owed. */
const GROUPED = new Set(["newest", "oldest"]);
const OWED_NAMES: Record<Owed, string> = {
  arriving: "Arriving",
  waiting: "Waiting for answers",
  answered: "All answered",
  nothing: "Nothing asked",
  draft: "Drafts",
  others: "From colleagues",
};

const saidTotal = (total: number) => (total > MOST_COUNTED ? `over ${MOST_COUNTED.toLocaleString("en-GB")}` : total);

const WATCH_MS = 3_000;

export default function Library({ loaderData }: Route.ComponentProps) {
  const { groups, next, query, base, keptDays, unusedGo, setUps, shelf } = loaderData;
  const rows = groups.flatMap((g): LibraryRow[] => g.rows);
  const [params] = useSearchParams();
  const busy = useNavigation().state === "loading";
  const deed = useDeeds();
  useRefresh(
    rows.some((r) => r.state.kind === "recording" || r.state.kind === "uploading"),
    WATCH_MS,
  );
  const deleted = query.show === "deleted";
  const nameOf = (owed: Owed | null) => (owed ? OWED_NAMES[owed] : deleted ? "Deleted" : "All recordings");
  useSentTakes();
  if (rows.length === 0 && query.q === "" && !query.after && !query.group && !deleted)
    return (
      <>
        <Box sx={{ maxWidth: 1240, mx: "auto", px: { xs: 0, sm: 3 }, pt: 2 }}>
          <HereGroup />
          <Shelves shelf={shelf} />
        </Box>
        <Empty />
      </>
    );
  return (
    <Box sx={{ maxWidth: 1240, mx: "auto", px: { xs: 0, sm: 3 }, py: { xs: 2, md: 4 } }} aria-busy={busy}>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, alignItems: "center", px: { xs: 1.5, sm: 0 }, mb: 2 }}>
        <Typography variant="h1" sx={{ mr: "auto" }}>
          {deleted ? "Deleted" : "Library"}
        </Typography>
        {!deleted && <SetUpLinks setUps={setUps} />}
        <Tools query={query} />
      </Box>
      {deleted && (
        <Typography sx={{ mb: 2, px: { xs: 1.5, sm: 0 } }}>
          Deleted recordings are kept {keptDays} days and can be restored until then. Nobody else can open them.
        </Typography>
      )}
      {rows.length === 0 && (
        <Typography sx={{ py: 6, px: { xs: 1.5, sm: 0 } }} role="status">
          {query.q ? (
            <>
              No title contains “{query.q}”. <Link to={deleted ? "/library?show=deleted" : "/library"}>Show all</Link>
            </>
          ) : deleted ? (
            "Nothing was deleted."
          ) : (
            "Nothing stands here any more."
          )}
        </Typography>
      )}
      {!deleted && <HereGroup />}
      <Moving rows={rows}>
        {!deleted && <Shelves shelf={shelf} />}
        {groups.map(({ owed, rows, total }) => (
          <Group
            key={owed ?? "all"}
            name={nameOf(owed)}
            total={total}
            all={owed && total !== null && total > rows.length ? withParam(params, "group", owed) : null}
          >
            {rows.map((row) => (
              <LedgerRow key={row.id} row={row} link={`${base}/w/${row.token}`} onDeed={deed} unusedGo={unusedGo} />
            ))}
          </Group>
        ))}
      </Moving>
      <Box sx={{ display: "flex", gap: 2, px: { xs: 1.5, sm: 0 }, flexWrap: "wrap" }}>
        {query.after && (
          <Button component={Link} to={withParam(params, "after", null)}>
            Back to the first page
          </Button>
        )}
        {next && (
          <Button component={Link} to={withParam(params, "after", next)} variant="outlined">
            Next page
          </Button>
        )}
        {query.group && (
          <Button component={Link} to={withParam(params, "group", null)}>
            All groups
          </Button>
        )}
        <Button component={Link} to={deleted ? "/library" : "/library?show=deleted"} sx={{ ml: "auto" }}>
          {deleted ? "Back to the library" : "Deleted recordings"}
        </Button>
      </Box>
    </Box>
  );
}

/** The folders of this workspace, and those that one was given in others. */
function Shelves({ shelf: { folders, more, elsewhere } }: { shelf: ShelfOf }) {
  return (
    <>
      <Shelf folders={folders} more={more} newIn={null} />
      {elsewhere.length > 0 && (
        <Typography sx={{ px: { xs: 1.5, sm: 0 }, mb: 3 }}>
          Shared with you:{" "}
          {elsewhere.map(({ id, name, workspace }, i) => (
            <span key={id}>
              {i > 0 && ", "}
              <Link to={`/f/${id}`}>{name}</Link> of {workspace}
            </span>
          ))}
        </Typography>
      )}
    </>
  );
}

/** Some rows under their name; `all` leads to all of them where there are more. */
function Group({
  name,
  total,
  all,
  children,
}: {
  name: string;
  total: number | null;
  all: string | null;
  children: ReactNode;
}) {
  return (
    <Box component="section" aria-label={name} sx={{ mb: { xs: 1.5, md: 4 } }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1.5, px: { xs: 1.5, sm: 0 }, py: 1 }}>
        <Typography variant="h2">{name}</Typography>
        {total !== null && (
          <Typography className="clock" color="text.secondary">
            {saidTotal(total)}
          </Typography>
        )}
        {all && (
          <Box component={Link} to={all} sx={{ ml: "auto" }}>
            Show all {saidTotal(total!)}
          </Box>
        )}
      </Box>
      <Box
        component="ul"
        sx={{ listStyle: "none", m: 0, p: 0, border: "1px solid", borderTop: 0, borderColor: "mist" }}
      >
        {children}
      </Box>
    </Box>
  );
}

/** A set-up is one press away. */
function SetUpLinks({ setUps }: { setUps: { id: string; name: string }[] }) {
  if (setUps.length === 0) return null;
  return (
    <Box component="nav" aria-label="Record with a set-up" sx={{ display: "flex", gap: 1.5, flexWrap: "wrap" }}>
      <span>Record:</span>
      {setUps.map(({ id, name }) => (
        <Link key={id} to={`/record?set-up=${id}`}>
          {name}
        </Link>
      ))}
    </Box>
  );
}

function Tools({ query }: { query: LibraryQuery }) {
  const submit = useSubmit();
  return (
    <Form
      role="search"
      aria-label="Library"
      onChange={(e) => e.target instanceof HTMLInputElement && e.target.name === "sort" && submit(e.currentTarget)}
      style={{ display: "flex", gap: 8, flexWrap: "wrap" }}
    >
      {query.show === "deleted" && <input type="hidden" name="show" value="deleted" />}
      <TextField
        key={query.q}
        name="q"
        defaultValue={query.q}
        size="small"
        placeholder="Search titles"
        sx={{ display: { md: query.q || query.show === "deleted" ? "inline-flex" : "none" }, width: 190 }}
        slotProps={{ htmlInput: { "aria-label": "Search titles in this list", maxLength: 160 } }}
      />
      <Select
        name="sort"
        size="small"
        value={query.sort}
        inputProps={{ "aria-label": "Order" }}
        onChange={(e) =>
          void submit({
            ...(query.q && { q: query.q }),
            ...(query.show === "deleted" && { show: "deleted" }),
            sort: e.target.value,
          })
        }
      >
        {Object.entries(SORT_NAMES).map(([value, name]) => (
          <MenuItem key={value} value={value}>
            {name}
          </MenuItem>
        ))}
      </Select>
    </Form>
  );
}

function Empty() {
  return (
    <Notice
      title="Your library is empty"
      action={
        <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap" }}>
          <Button component={Link} to="/record" variant="contained" size="large">
            Record the first one
          </Button>
          <Button component={Link} to="/library?show=deleted">
            Deleted recordings
          </Button>
        </Box>
      }
    >
      Everything you and your colleagues record and share stands here. Show your screen and yourself, explain one thing,
      stop: the link is ready at once.
    </Notice>
  );
}

/** A take of this computer that is all sent, or thrown away, has another row now. */
function useSentTakes() {
  const { revalidate } = useRevalidator();
  const { sending, unfinished } = useOutbox();
  const here = sending.length + unfinished.length;
  const before = useRef(here);
  useEffect(() => {
    if (here < before.current) void revalidate();
    before.current = here;
  }, [here, revalidate]);
}

function withParam(params: URLSearchParams, name: string, value: string | null): string {
  const changed = new URLSearchParams(params);
  if (value === null) changed.delete(name);
  else changed.set(name, value);
  return `?${changed}`;
}
