import ContentCopy from "@mui/icons-material/ContentCopy";
import MoreVert from "@mui/icons-material/MoreVert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link } from "react-router";
import type { Audience } from "#core/access/access";
import { lastDay } from "#core/retention/retention";
import { formatClock, isoDuration, spokenLength } from "#core/time/micros";
import type { Back, LibraryRow } from "#server/recordings/rows";
import { Strip } from "../timeline/Timeline";
import { Grip, useMoves } from "../folders/Moving";
import { EditableTitle } from "./EditableTitle";
import { Poster } from "./Poster";
import { RowState } from "./RowState";
import { useCopy } from "./useCopy";
import { Day, When } from "./When";

export type RowDeed =
  | { do: "share"; audience: Audience }
  | { do: "delete" }
  | { do: "restore" }
  | { do: "erase" }
  | { do: "end-take" }
  | { do: "spare"; spared: boolean };

interface Props {
  row: LibraryRow;
  /** the whole address; null where it is nothing to be passed on */
  link: string | null;
  onDeed: (row: LibraryRow, deed: RowDeed) => void;
  /** recordings that nobody uses go here */
  unusedGo?: boolean;
  /** in a folder that one manages: what somebody else has put there lies there no more */
  onTakeOut?: (row: LibraryRow) => void;
}

/** One recording in the ledger. */
export function LedgerRow(props: Props) {
  const { row } = props;
  const back = row.deletedAt === null && row.state.kind === "ready" ? row.back : null;
  const poster = <Poster token={row.token} has={row.hasPoster} source={row.source} />;
  const watchable = row.state.kind !== "empty" && row.deletedAt === null;
  const title = (shown: string) => (
    <Typography component="h3" variant="h3" sx={{ overflowWrap: "anywhere", minWidth: 0 }}>
      {watchable ? (
        <Box
          component={Link}
          to={`/w/${row.token}`}
          sx={{ color: "text.primary", textDecoration: "none", "&:hover": { textDecoration: "underline" } }}
        >
          {shown}
        </Box>
      ) : (
        shown
      )}
    </Typography>
  );
  return (
    <Box
      component="li"
      sx={{
        display: "grid",
        columnGap: { xs: 1.5, md: 3 },
        rowGap: 0.25,
        alignItems: { xs: "start", md: "center" },
        px: { xs: 1.5, md: 2 },
        py: { xs: 1, md: 1.5 },
        bgcolor: "background.paper",
        borderTop: "1px solid",
        borderColor: "mist",
        gridTemplateColumns: {
          xs: "88px minmax(0,1fr) auto",
          md: "144px minmax(0,1fr) minmax(190px,240px) 70px 150px auto",
        },
        gridTemplateAreas: {
          xs: `"poster title deeds" "poster back back" "poster meta meta"`,
          md: `"poster title state length sender deeds" "poster back state length sender deeds"`,
        },
      }}
    >
      <Box sx={{ gridArea: "poster" }}>
        {row.mine && row.deletedAt === null ? <Grip row={row}>{poster}</Grip> : poster}
      </Box>
      <Box
        sx={{
          gridArea: "title",
          gridRow: back ? undefined : { md: "1 / -1" },
          minWidth: 0,
          alignSelf: { md: back ? "end" : "center" },
        }}
      >
        {row.mine && row.deletedAt === null ? (
          <EditableTitle id={row.id} title={row.title} version={row.titleVersion}>
            {title}
          </EditableTitle>
        ) : (
          title(row.title)
        )}
      </Box>
      {back && <CameBack back={back} id={row.id} />}
      {/* Columns of their own where there is room, else one line under the title. */}
      <Box
        sx={{
          gridArea: { xs: "meta", md: "auto" },
          display: { xs: "flex", md: "contents" },
          flexWrap: "wrap",
          columnGap: 1.5,
          minWidth: 0,
          fontSize: "0.9rem",
        }}
      >
        <Typography component="div" variant="body2" sx={{ gridArea: "state" }}>
          {row.deletedAt ? (
            <>
              Deleted <When at={row.deletedAt} />
            </>
          ) : (
            <RowState state={row.state} audience={row.mine ? row.audience : null} />
          )}
          {row.goesAt && row.deletedAt === null && (
            <Box component="span" sx={{ display: "block", color: "clay.main" }}>
              Not used, goes after <Day day={lastDay(row.goesAt)} />
            </Box>
          )}
        </Typography>
        <Typography variant="body2" className="clock" sx={{ gridArea: "length", textAlign: { md: "right" } }}>
          <time dateTime={isoDuration(row.durationUs)} aria-label={spokenLength(row.durationUs)}>
            {formatClock(row.durationUs)}
          </time>
        </Typography>
        <Typography
          component="div"
          variant="body2"
          sx={{ gridArea: "sender", minWidth: 0, display: { xs: "flex", md: "block" }, columnGap: 0.75 }}
        >
          <Box sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
            {row.mine ? "You" : row.sender}
          </Box>
          <Box sx={{ color: "text.secondary" }}>
            <When at={row.createdAt} />
          </Box>
        </Typography>
      </Box>
      <Deeds {...props} />
    </Box>
  );
}

/** A thin strip of attention and comments along the length, and what was given of what was asked. */
function CameBack({ back: { ask, views, strip, comments }, id }: { back: Back; id: string }) {
  const words = [
    ask &&
      (ask.asked > 0
        ? `${ask.answered} of ${ask.asked} answered`
        : ask.others > 0
          ? `${ask.others} answered`
          : "asked, no answer yet"),
    ask && ask.notClear > 0 && `${ask.notClear} not clear yet`,
    views > 0 ? `${views} ${views === 1 ? "view" : "views"}` : null,
  ].filter(Boolean);
  return (
    <Box sx={{ gridArea: "back", alignSelf: "start", maxWidth: 420 }}>
      {(strip.length > 0 || comments.length > 0) && (
        <Box
          aria-hidden
          sx={{
            display: { xs: "none", sm: "block" },
            position: "relative",
            height: 10,
            borderBottom: "1px solid",
            borderColor: "mist",
          }}
        >
          <Strip values={strip} />
          {comments.map((at, i) => (
            <Box
              key={i}
              style={{ left: `${100 * at}%` }}
              sx={{ position: "absolute", top: 0, bottom: 0, width: 2, bgcolor: "text.primary" }}
            />
          ))}
        </Box>
      )}
      {words.length > 0 && (
        <Typography variant="body2" sx={{ color: "text.secondary" }}>
          {ask && !ask.closed && (
            <Box component="span" aria-hidden sx={{ color: "marigold.main", mr: 0.75 }}>
              {ask.answered + ask.others > 0 ? "▲" : "△"}
            </Box>
          )}
          <Box component={Link} to={`/figures/${id}`} sx={{ color: "inherit" }}>
            {words.join(", ")}
          </Box>
          {ask?.overdue && (
            <Box component="strong" sx={{ color: "clay.main", ml: 1 }}>
              overdue
            </Box>
          )}
        </Typography>
      )}
    </Box>
  );
}

function Deeds({ row, link, onDeed, onTakeOut, unusedGo }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const copy = useCopy();
  const moves = useMoves();
  const choose = (deed: RowDeed) => {
    setAnchor(null);
    onDeed(row, deed);
  };
  if (row.deletedAt) {
    return (
      <Box sx={{ gridArea: "deeds", display: "flex", gap: 1, flexDirection: { xs: "column", md: "row" } }}>
        <Button size="small" variant="outlined" onClick={() => choose({ do: "restore" })}>
          Restore
        </Button>
        <Button size="small" color="clay" onClick={() => choose({ do: "erase" })}>
          Erase
        </Button>
      </Box>
    );
  }
  return (
    <Box sx={{ gridArea: "deeds", display: "flex", alignSelf: { xs: "start", md: "center" } }}>
      {link && (
        <Tooltip title={row.audience === "owner" ? "Copy link (works for you only, until you share it)" : "Copy link"}>
          <IconButton
            aria-label={`Copy the link to ${row.title}`}
            onClick={() =>
              void copy(
                link,
                row.audience === "owner"
                  ? "Link copied. It works for you only, until you share the recording."
                  : "Link copied",
              )
            }
          >
            <ContentCopy fontSize="small" />
          </IconButton>
        </Tooltip>
      )}
      {(row.mine || onTakeOut) && (
        <>
          <IconButton
            aria-label={`More for ${row.title}`}
            aria-haspopup="menu"
            aria-expanded={anchor !== null}
            onClick={(e) => setAnchor(e.currentTarget)}
          >
            <MoreVert fontSize="small" />
          </IconButton>
          <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
            {row.mine ? (
              [
                row.state.kind === "interrupted" && (
                  <MenuItem key="end" onClick={() => choose({ do: "end-take" })}>
                    End it here, with what has arrived
                  </MenuItem>
                ),
                row.audience === "owner" ? (
                  <MenuItem key="share" onClick={() => choose({ do: "share", audience: "anyone" })}>
                    Share with anyone who has the link
                  </MenuItem>
                ) : (
                  <MenuItem key="share" onClick={() => choose({ do: "share", audience: "owner" })}>
                    Make it a draft again
                  </MenuItem>
                ),
                moves && (
                  <MenuItem
                    key="move"
                    onClick={() => {
                      setAnchor(null);
                      moves.move(row);
                    }}
                  >
                    Move to a folder
                  </MenuItem>
                ),
                (unusedGo || row.spared) && (
                  <MenuItem key="spare" onClick={() => choose({ do: "spare", spared: !row.spared })}>
                    {row.spared ? "Let it go when nobody uses it" : "Let it stay, used or not"}
                  </MenuItem>
                ),
                <MenuItem key="delete" onClick={() => choose({ do: "delete" })}>
                  Delete
                </MenuItem>,
              ]
            ) : (
              <MenuItem
                onClick={() => {
                  setAnchor(null);
                  onTakeOut?.(row);
                }}
              >
                Take it out of the folder
              </MenuItem>
            )}
          </Menu>
        </>
      )}
    </Box>
  );
}
