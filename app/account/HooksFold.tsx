import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useFetcher } from "react-router";
import { HOOK_KIND_WORDS, HOOK_KINDS, wasTaken, type HookKind } from "#core/api/hooks";
import type { Hook } from "#server/hooks/hooks";
import { useSaidMoment, When } from "../components/When";
import { SecretOnce, useOnceMade } from "../components/SecretOnce";
import { FoldedList } from "./FoldedList";
import { Ticks } from "./Ticks";
import { FormError } from "../components/FormError";

/** Addresses that are told what comes to somebody's inbox. */
export function HooksFold({ hooks, workspace }: { hooks: readonly Hook[]; workspace: string }) {
  return (
    <FoldedList
      title="Addresses that are told"
      label="Addresses"
      all={hooks}
      row={(hook) => <Row key={hook.id} hook={hook} />}
    >
      <NewHook workspace={workspace} />
    </FoldedList>
  );
}

function Row({ hook: { id, url, kinds, workspaceName, last } }: { hook: Hook }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const send = (deed: "try-hook" | "end-hook") =>
    void fetcher.submit({ do: deed, hook: id }, { method: "post", action: "/account" });
  const busy = fetcher.state !== "idle";
  return (
    <Box
      component="li"
      sx={{ display: "flex", flexWrap: "wrap", columnGap: 2, py: 1, borderTop: "1px solid", borderColor: "mist" }}
    >
      <Box sx={{ flex: "1 1 260px", minWidth: 0 }}>
        <Typography className="clock" sx={{ overflowWrap: "anywhere" }}>
          {url}
        </Typography>
        <Typography variant="body2" color="text.secondary">
          {workspaceName}: {kinds.map((kind) => HOOK_KIND_WORDS[kind]).join(", ")}
        </Typography>
        <Typography variant="body2" role="status" sx={{ overflowWrap: "anywhere" }}>
          {last ? <Last last={last} /> : "Nothing was sent yet."}
        </Typography>
      </Box>
      <Box sx={{ alignSelf: "center", ml: { xs: -1, sm: 0 } }}>
        <Button size="small" disabled={busy} onClick={() => send("try-hook")} aria-label={`Try ${url}`}>
          {busy && fetcher.formData?.get("do") === "try-hook" ? "Trying" : "Try it"}
        </Button>
        <Button size="small" disabled={busy} onClick={() => send("end-hook")} aria-label={`End ${url}`}>
          End it
        </Button>
      </Box>
      <FormError error={fetcher.data?.error} sx={{ flexBasis: "100%" }} />
    </Box>
  );
}

/** Of what was answered: enough to see what is wrong. */
const MOST_SAID = 120;

function Last({ last: { triedAt, status, said, again } }: { last: NonNullable<Hook["last"]> }) {
  const say = useSaidMoment();
  const words = said && said.length > MOST_SAID ? `${said.slice(0, MOST_SAID)}…` : said;
  return (
    <>
      <When at={triedAt} />:{" "}
      {status === null ? said : wasTaken(status) ? `taken (${status})` : `refused (${status}) ${words ?? ""}`}
      {again && `, again ${say(Date.parse(again))}`}
    </>
  );
}

function NewHook({ workspace }: { workspace: string }) {
  const fetcher = useFetcher<{ error: string | null; secret?: string }>();
  const [url, setUrl] = useState("");
  const [kinds, setKinds] = useState<readonly HookKind[]>(HOOK_KINDS);
  const { state, data } = fetcher;
  useOnceMade(data?.secret, () => setUrl(""));
  return (
    <Box
      component="form"
      aria-label="Tell an address"
      onSubmit={(e) => {
        e.preventDefault();
        const fields = { do: "make-hook", url, kinds: JSON.stringify(kinds) };
        void fetcher.submit(fields, { method: "post", action: "/account" });
      }}
      sx={{ display: "grid", gap: 1.5, justifyItems: "start" }}
    >
      <Typography>
        What comes to you in {workspace} is sent there within a minute, signed (Standard Webhooks), and again for two
        days where nobody takes it.
      </Typography>
      <TextField
        size="small"
        fullWidth
        label="Its address"
        value={url}
        onChange={(e) => setUrl(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 1_000, inputMode: "url", autoComplete: "off", spellCheck: false } }}
      />
      <Ticks label="Of what it is told" all={HOOK_KINDS} words={HOOK_KIND_WORDS} ticked={kinds} onTick={setKinds} />
      <Button type="submit" variant="outlined" disabled={state !== "idle" || url.trim() === "" || kinds.length === 0}>
        Tell it
      </Button>
      <FormError error={data?.error} />
      {data?.secret && <SecretOnce secret={data.secret}>By this secret it knows that we have sent it.</SecretOnce>}
    </Box>
  );
}
