import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useFetcher } from "react-router";
import type { FeedLine } from "#server/folders/feeds";
import { SecretOnce } from "../components/SecretOnce";
import { Folded } from "../components/Folded";
import { When } from "../components/When";
import { FormError } from "../components/FormError";

interface Props {
  folder: { id: string; name: string };
  /** null: there is none yet */
  feed: FeedLine | null;
}

/** What is new in a folder, for the feed reader of whoever looks: its address is made, shown once, and ended. */
export function FeedFold({ folder: { id, name }, feed }: Props) {
  const fetcher = useFetcher<{ error: string | null; feed?: string }>();
  const submit = (deed: "make-feed" | "end-feed") =>
    void fetcher.submit({ do: deed }, { method: "post", action: `/f/${id}` });
  const busy = fetcher.state !== "idle";
  const { data } = fetcher;
  return (
    <Folded title="In a feed reader" value={feed ? "has an address" : "no address"}>
      <Typography>
        A feed reader tells you what is new in “{name}”, as far as you may see it (Atom). Its address is yours: whoever
        has it reads the titles, and who sent them.
      </Typography>
      {feed && (
        <Typography variant="body2" color="text.secondary">
          made <When at={feed.madeAt} />,{" "}
          {feed.askedAt ? (
            <>
              last asked for <When at={feed.askedAt} />
            </>
          ) : (
            "not asked for yet"
          )}
        </Typography>
      )}
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <Button variant="outlined" disabled={busy} onClick={() => submit("make-feed")}>
          {feed ? "Make another address" : "Make its address"}
        </Button>
        {feed && (
          <Button disabled={busy} onClick={() => submit("end-feed")}>
            End it
          </Button>
        )}
      </Box>
      <FormError error={data?.error} />
      {feed && data?.feed && (
        <SecretOnce secret={data.feed} copied="Address copied">
          Give the reader this address. One that was made before opens nothing any more.
        </SecretOnce>
      )}
    </Folded>
  );
}
