import ArrowDownward from "@mui/icons-material/ArrowDownward";
import ArrowUpward from "@mui/icons-material/ArrowUpward";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { useFetcher } from "react-router";
import { PLACE_NAME_MAX, type PlaceKind } from "#core/places/kinds";
import type { Place } from "#server/places/places";
import { Folded } from "../components/Folded";
import { FormError } from "../components/FormError";
import { SelectField } from "../components/SelectField";
import { TakeOffRow } from "./TakeOffRow";

const KINDS: Record<PlaceKind, string> = { webdav: "a folder (WebDAV)", channel: "a channel" };
const EMPTY = { name: "", address: "", account: "", password: "" };

const SECRET = { type: "password", autoComplete: "new-password" };

/** For owners: the outside places to which files can be sent, in the workspace's own order. */
export function PlacesFold({ places }: { places: readonly Place[] }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const { state, data } = fetcher;
  const [fields, setFields] = useState(EMPTY);
  const [kind, setKind] = useState<PlaceKind>("webdav");
  const busy = state !== "idle";
  const adds = useRef(false);
  const send = (deed: Record<string, string>) => {
    adds.current = deed.do === "add-place";
    void fetcher.submit(deed, { method: "post", action: "/workspace" });
  };
  // Each answer is another one.
  useEffect(() => {
    if (adds.current && data?.error === null) setFields(EMPTY);
  }, [data]);
  const choose = (chosen: PlaceKind) => {
    setKind(chosen);
    // What opens one kind of place is nothing to another.
    setFields({ ...fields, account: "", password: "" });
  };
  const move = (from: number, by: number) => {
    const ids = places.map(({ id }) => id);
    const [id] = ids.splice(from, 1);
    ids.splice(from + by, 0, id!);
    send({ do: "order-places", order: JSON.stringify(ids) });
  };
  const field = (name: keyof typeof EMPTY, label: string, more: Record<string, unknown> = {}, helper?: string) => (
    <TextField
      size="small"
      label={label}
      value={fields[name]}
      onChange={(e) => setFields({ ...fields, [name]: e.target.value })}
      helperText={helper}
      slotProps={{ htmlInput: { autoComplete: "off", spellCheck: false, maxLength: 1_000, ...more } }}
      sx={{ flex: "1 1 240px" }}
    />
  );
  return (
    <Folded title="Outside places" value={places.length === 0 ? "none" : places.map(({ name }) => name).join(", ")}>
      <Typography sx={{ maxWidth: 640 }}>
        Files of recordings can be sent to a folder on another server that speaks WebDAV, or to a channel, where they
        are shown. Whoever shares outside can send theirs there; what opens it is used for that, and shown to nobody.
      </Typography>
      {places.length > 0 && (
        <Box component="ol" aria-label="Outside places" sx={{ listStyle: "none", m: 0, p: 0, maxWidth: 640 }}>
          {places.map(({ id, name, address }, i) => (
            <TakeOffRow
              key={id}
              name={name}
              disabled={busy}
              onTakeOff={() => send({ do: "drop-place", place: id })}
              more={
                <>
                  <IconButton aria-label={`${name} up`} disabled={busy || i === 0} onClick={() => move(i, -1)}>
                    <ArrowUpward fontSize="small" />
                  </IconButton>
                  <IconButton
                    aria-label={`${name} down`}
                    disabled={busy || i === places.length - 1}
                    onClick={() => move(i, 1)}
                  >
                    <ArrowDownward fontSize="small" />
                  </IconButton>
                </>
              }
            >
              <Box component="span" sx={{ fontWeight: 600 }}>
                {name}
              </Box>{" "}
              <span className="clock">{address}</span>
            </TakeOffRow>
          ))}
        </Box>
      )}
      <Box
        component="form"
        aria-label="Name a place"
        onSubmit={(e) => {
          e.preventDefault();
          send({ do: "add-place", kind, ...fields });
        }}
        sx={{ display: "flex", gap: 1.5, alignItems: "flex-start", flexWrap: "wrap", maxWidth: 640 }}
      >
        <SelectField label="Kind of place" value={kind} names={KINDS} onChoose={choose} minWidth={240} />
        {field("name", "What we call it", { maxLength: PLACE_NAME_MAX })}
        {kind === "webdav" ? (
          <>
            {field("address", "Address of the folder", { inputMode: "url" }, "Like https://files.example.org/videos/")}
            {field("account", "Name there")}
            {field("password", "Password there", SECRET)}
          </>
        ) : (
          <>
            {field("address", "Address of the channel", { inputMode: "url" }, "Like https://films.example.org/api/")}
            {field("password", "Key of the channel", SECRET)}
          </>
        )}
        <Button type="submit" variant="outlined" disabled={busy || !fields.name.trim() || !fields.address.trim()}>
          {busy && adds.current ? "Trying it" : "Add it"}
        </Button>
      </Box>
      <FormError error={data?.error} />
    </Folded>
  );
}
