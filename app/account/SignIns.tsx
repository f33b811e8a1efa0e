import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useFetcher } from "react-router";
import { When } from "../components/When";

export interface ShownSignIn {
  id: string;
  /** the browser and what it runs on, as people say it */
  where: string;
  here: boolean;
  /** its browser tells what is new */
  tells: boolean;
  createdAt: string;
  lastAt: string;
}

/** Where somebody is signed in; each can be ended from here. */
export function SignIns({ all }: { all: readonly ShownSignIn[] }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const end = (fields: Record<string, string>) => void fetcher.submit(fields, { method: "post" });
  const busy = fetcher.state !== "idle";
  return (
    <Box component="section" aria-labelledby="sign-ins" sx={{ mt: 4 }}>
      <Typography id="sign-ins" variant="h2" sx={{ mb: 1 }}>
        Where you are signed in
      </Typography>
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {all.map(({ id, where, here, tells, createdAt, lastAt }) => (
          <Box
            component="li"
            key={id}
            sx={{
              display: "flex",
              gap: 2,
              alignItems: "center",
              py: 1,
              borderTop: "1px solid",
              borderColor: "mist",
            }}
          >
            <Box sx={{ flex: 1, minWidth: 0 }}>
              <Typography>
                {where}
                {here && <strong>, here</strong>}
              </Typography>
              <Typography variant="body2" color="text.secondary">
                since <When at={createdAt} />, last used <When at={lastAt} />
                {tells && "; tells you what is new"}
              </Typography>
            </Box>
            {!here && (
              <Button
                size="small"
                disabled={busy}
                onClick={() => end({ do: "end-session", session: id })}
                aria-label={`Sign out of ${where}`}
              >
                Sign out
              </Button>
            )}
          </Box>
        ))}
      </Box>
      {all.length > 1 && (
        <Button sx={{ mt: 1, ml: -1 }} disabled={busy} onClick={() => end({ do: "end-others" })}>
          Sign out everywhere else
        </Button>
      )}
    </Box>
  );
}
