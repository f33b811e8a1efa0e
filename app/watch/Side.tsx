import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState, type ReactNode } from "react";

/** The pane beside the picture: the comments, and for the sender the people. */
export function Side({
  mine,
  live,
  threads,
  ask,
  children,
}: {
  mine: boolean;
  live: boolean;
  threads: number;
  /** what is asked, or where it stands */
  ask: ReactNode;
  children: { comments: ReactNode; people: ReactNode };
}) {
  const [shown, setShown] = useState<"comments" | "people">("comments");
  const tab = (name: "comments" | "people", text: string) => (
    <Button
      role="tab"
      id={`tab-${name}`}
      aria-selected={shown === name}
      aria-controls="side"
      onClick={() => setShown(name)}
      sx={{
        borderBottom: "3px solid",
        borderColor: shown === name ? "marigold.main" : "transparent",
        color: "text.primary",
      }}
    >
      {text}
    </Button>
  );
  const commentsName = threads > 0 ? `Comments, ${threads}` : "Comments";
  return (
    <Box
      sx={{
        gridArea: "side",
        px: { xs: 1.5, sm: 0 },
        pb: { xs: 2, md: 0 },
        display: "flex",
        flexDirection: "column",
        gap: 1,
        minHeight: 0,
        overflowY: { md: "auto" },
      }}
    >
      {ask}
      <Box sx={{ display: "flex", alignItems: "center", borderBottom: "1px solid", borderColor: "mist", mb: 0.5 }}>
        {mine ? (
          <Box role="tablist" aria-label="Beside the recording">
            {tab("comments", commentsName)}
            {tab("people", "People")}
          </Box>
        ) : (
          <Typography variant="h2" id="tab-comments" sx={{ py: 0.75 }}>
            {commentsName}
          </Typography>
        )}
        {!live && (
          <Typography variant="body2" role="status" sx={{ ml: "auto", color: "clay.main" }}>
            No connection; news come later
          </Typography>
        )}
      </Box>
      <Box
        id="side"
        {...(mine && { role: "tabpanel", "aria-labelledby": `tab-${shown}` })}
        sx={{ display: "flex", flexDirection: "column", flex: 1, minHeight: { md: 220 } }}
      >
        {shown === "people" && children.people ? children.people : children.comments}
      </Box>
    </Box>
  );
}
