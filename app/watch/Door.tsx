import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { isRouteErrorResponse, useFetcher, useLocation, useSearchParams } from "react-router";
import { Notice } from "../components/Notice";
import { Trouble } from "../components/Trouble";
import { useSaidMoment } from "../components/When";
import { takeInvite } from "../answers/identity";
import { doorAt } from "../embed/doors";
import type { ClosedDoor } from "../services/door.server";
import { StrangersBar } from "../share/StrangersBar";
import { FormError } from "../components/FormError";

/** In the place of a token, where a short or a personal link leads nowhere: nobody has a code there either. */
export const NO_LINK = "nowhere";

interface DoorProps {
  error: unknown;
  token: string;
  /** where it is sent what somebody shows; the link's own door where it is not told */
  enter?: string;
}

/** A link that does not open for whoever stands before it: why, and what can be done. */
export function Door({ error, token, enter }: DoorProps) {
  const [params] = useSearchParams();
  usePersonalLink();
  const closed = isRouteErrorResponse(error) ? (error.data as Partial<ClosedDoor> | null) : null;
  if (!closed?.door) return <Trouble error={error} />;
  return (
    <>
      {params.get("as") === "stranger" && <StrangersBar token={token} />}
      <Closed door={closed.door} at={closed.at ?? null} token={token} enter={enter} />
    </>
  );
}

/** Personal links of an earlier form have the key where only this page can read it. */
function usePersonalLink() {
  useEffect(() => {
    const key = takeInvite();
    if (key) location.replace(`/for/${encodeURIComponent(key)}`);
  }, []);
}

function Closed({ door, at, token, enter }: ClosedDoor & Omit<DoorProps, "error">) {
  const say = useSaidMoment();
  const when = at === null ? "" : say(at);
  switch (door) {
    case "password":
      return (
        <Notice title="A password is asked for" action={<PasswordForm token={token} />}>
          Whoever sent you the link knows it. You give it once; this browser remembers.
        </Notice>
      );
    case "not-yet":
      return <Notice title="It is not open yet">It opens {when}. The link stays the same.</Notice>;
    case "over":
      return (
        <Notice title="It is not open any more">
          It was open until {when}. Ask whoever sent it, if you still need it.
        </Notice>
      );
    case "replaced":
      return <Notice title="This link was replaced">Whoever sent it has made a new one. Ask them for it.</Notice>;
    case "nothing":
      return <Nothing token={token} enter={enter} />;
  }
}

/** The same for a link that leads nowhere, a draft, and what is for other people. */
function Nothing({ token, enter }: Omit<DoorProps, "error">) {
  const { pathname } = useLocation();
  return (
    <Notice
      title="There is nothing here that you can open"
      action={
        <Box sx={{ display: "grid", gap: 3 }}>
          <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap" }}>
            <Button variant="contained" href={`/sign-in?to=${encodeURIComponent(pathname)}`}>
              Sign in
            </Button>
            <Button href="/">Go to Clear Nod</Button>
          </Box>
          <CodeForm token={token} enter={enter} />
        </Box>
      }
    >
      The link may be mistyped, or the recording is a draft, or it is for other people, or it was deleted. Ask the
      person who sent it.
    </Notice>
  );
}

/** Sends what somebody shows, and opens the page anew once it is right. */
function useEnter({ token, enter: to }: Omit<DoorProps, "error">, onEntered = () => location.reload()) {
  const fetcher = useFetcher<{ error: string | null }>();
  const { data, state, submit } = fetcher;
  const [deed, setDeed] = useState("");
  const done = state === "idle" && data?.error === null;
  const enter = useRef(onEntered);
  enter.current = onEntered;
  useEffect(() => {
    // From the server: what is shown is in a cookie that no script reads.
    if (done && deed !== "ask-code") enter.current();
  }, [done, deed]);
  return {
    error: state === "idle" ? data?.error : null,
    busy: state !== "idle",
    asked: done && deed === "ask-code",
    send: (fields: Record<string, string> & { do: string }) => {
      setDeed(fields.do);
      void submit(fields, { method: "post", action: to ?? doorAt(token, "enter") });
    },
  };
}

function OneField({
  name,
  children,
  error,
  onSend,
}: {
  name: string;
  children: ReactNode;
  error: string | null | undefined;
  onSend: () => void;
}) {
  return (
    <Box
      component="form"
      aria-label={name}
      onSubmit={(e) => {
        e.preventDefault();
        onSend();
      }}
      sx={{ display: "grid", gap: 1 }}
    >
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>{children}</Box>
      <FormError error={error} />
    </Box>
  );
}

/** @param onEntered it was right; if not told, the page is loaded anew */
export function PasswordForm({ token, onEntered }: { token: string; onEntered?: () => void }) {
  const [password, setPassword] = useState("");
  const { error, busy, send } = useEnter({ token }, onEntered);
  return (
    <OneField name="Give the password" error={error} onSend={() => send({ do: "password", password })}>
      <TextField
        size="small"
        type="password"
        label="Password"
        autoFocus
        value={password}
        onChange={(e) => setPassword(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 200, autoComplete: "off" } }}
      />
      <Button type="submit" variant="contained" disabled={busy || password === ""}>
        Open
      </Button>
    </OneField>
  );
}

/** For somebody who was named by their address and has no personal link at hand. */
function CodeForm(props: Omit<DoorProps, "error">) {
  const [address, setAddress] = useState("");
  const [code, setCode] = useState("");
  const asking = useEnter(props);
  const giving = useEnter(props);
  if (asking.asked)
    return (
      <Box>
        <Typography role="status" sx={{ mb: 1.5 }}>
          If it is for {address}, a code is on its way there. It comes within a minute.
        </Typography>
        <OneField name="Give the code" error={giving.error} onSend={() => giving.send({ do: "code", address, code })}>
          <TextField
            size="small"
            label="Code"
            autoFocus
            value={code}
            onChange={(e) => setCode(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 12, inputMode: "numeric", autoComplete: "one-time-code" } }}
          />
          <Button type="submit" variant="contained" disabled={giving.busy || code.trim() === ""}>
            Open
          </Button>
        </OneField>
      </Box>
    );
  return (
    <Box>
      <Typography sx={{ mb: 1.5 }}>Is it for you? Show that the address is yours.</Typography>
      <OneField name="Ask for a code" error={asking.error} onSend={() => asking.send({ do: "ask-code", address })}>
        <TextField
          size="small"
          type="email"
          label="Your e-mail address"
          value={address}
          onChange={(e) => setAddress(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 254, autoComplete: "email" } }}
        />
        <Button type="submit" variant="outlined" disabled={asking.busy || address.trim() === ""}>
          Mail me a code
        </Button>
      </OneField>
    </Box>
  );
}
