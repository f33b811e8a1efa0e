import ContentCopy from "@mui/icons-material/ContentCopy";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { useFetcher } from "react-router";
import { useCopy } from "../components/useCopy";

/** For the owner: who can open the link, and the link itself. */
export function Sharing({
  id,
  link,
  audience,
  children,
}: {
  id: string;
  link: string;
  audience: "owner" | "anyone";
  children: ReactNode;
}) {
  const fetcher = useFetcher<{ error: string | null }>();
  const copy = useCopy();
  const shown = fetcher.formData ? fetcher.formData.get("audience") : audience;
  const share = (audience: "owner" | "anyone") =>
    void fetcher.submit({ do: "share", audience }, { method: "post", action: `/recordings/${id}` });
  return (
    <Box
      sx={{
        display: "flex",
        flexWrap: "wrap",
        gap: { xs: 1, sm: 1.5 },
        alignItems: "center",
        mt: 0.5,
        py: 0.75,
        borderTop: "1px solid",
        borderBottom: "1px solid",
        borderColor: "mist",
      }}
    >
      <Typography role="status" sx={{ flex: { xs: "1 0 100%", sm: "0 1 auto" } }}>
        {shown === "owner" ? "A draft: only you can open the link." : "Anyone with the link can watch."}
      </Typography>
      {shown === "owner" ? (
        <Button
          variant="contained"
          onClick={() => {
            share("anyone");
            void copy(link, "Shared, and the link is copied");
          }}
        >
          Share with anyone who has the link
        </Button>
      ) : (
        <Button onClick={() => share("owner")}>Make it a draft again</Button>
      )}
      <Button variant="outlined" startIcon={<ContentCopy />} onClick={() => void copy(link)}>
        Copy link
      </Button>
      {children}
      {fetcher.data?.error && (
        <Typography role="alert" color="error">
          {fetcher.data.error}
        </Typography>
      )}
    </Box>
  );
}
