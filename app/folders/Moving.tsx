import {
  DndContext,
  DragOverlay,
  MouseSensor,
  pointerWithin,
  useDraggable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Typography from "@mui/material/Typography";
import { createContext, use, useMemo, useState, type ReactNode } from "react";
import { MOST_MOVED } from "#core/access/move";
import type { FolderLine } from "#server/folders/folders";
import type { LibraryRow } from "#server/recordings/rows";
import { MoveDialog, type Moved } from "./MoveDialog";

interface Moves {
  chosen: ReadonlySet<string>;
  choose: (id: string, is: boolean) => void;
  move: (row: LibraryRow) => void;
}
const MovesContext = createContext<Moves | null>(null);

/** What a row can do here to be moved; null where nothing is. */
export const useMoves = () => use(MovesContext);

/**
 * Recordings on a page that can be moved into folders: by dragging their posters, by choosing several, or from the menu
 * of one.
 * @param here the folder that the page is about
 */
export function Moving({ rows, here, children }: { rows: readonly LibraryRow[]; here?: string; children: ReactNode }) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [asked, setAsked] = useState<{ moved: Moved; to?: FolderLine } | null>(null);
  const [dragged, setDragged] = useState<Moved | null>(null);
  // By mouse alone: a finger on a poster moves the page, and has the menu.
  const sensors = useSensors(useSensor(MouseSensor, { activationConstraint: { distance: 8 } }));
  const mine = rows.filter((row) => chosen.has(row.id));
  const moves = useMemo<Moves>(
    () => ({
      chosen,
      choose: (id, is) =>
        setChosen((before) => {
          const next = new Set(before);
          if (is && next.size < MOST_MOVED) next.add(id);
          else next.delete(id);
          return next;
        }),
      move: (row) => setAsked({ moved: movedOf([row]) }),
    }),
    [chosen],
  );
  /** A poster that is dragged takes everything along that is chosen with it. */
  const takenWith = (id: string) => movedOf(chosen.has(id) ? mine : rows.filter((row) => row.id === id));
  return (
    <MovesContext value={moves}>
      <DndContext
        sensors={sensors}
        collisionDetection={pointerWithin}
        onDragStart={({ active }) => setDragged(takenWith(String(active.id)))}
        onDragCancel={() => setDragged(null)}
        onDragEnd={({ active, over }) => {
          setDragged(null);
          const to = over?.data.current as FolderLine | undefined;
          if (to) setAsked({ moved: takenWith(String(active.id)), to });
        }}
      >
        {children}
        <DragOverlay dropAnimation={null}>
          {dragged && (
            <Box sx={{ bgcolor: "bar.main", color: "bar.contrastText", px: 1.5, py: 0.75, width: "fit-content" }}>
              {dragged.name}
            </Box>
          )}
        </DragOverlay>
      </DndContext>
      {mine.length > 0 && (
        <Box
          role="region"
          aria-label="What is chosen"
          sx={{
            position: "sticky",
            bottom: 0,
            zIndex: 2,
            display: "flex",
            alignItems: "center",
            gap: 1.5,
            flexWrap: "wrap",
            px: 2,
            py: 1,
            bgcolor: "bar.main",
            color: "bar.contrastText",
          }}
        >
          <Typography role="status">{mine.length} chosen</Typography>
          <Button color="inherit" variant="outlined" size="small" onClick={() => setAsked({ moved: movedOf(mine) })}>
            Move to a folder
          </Button>
          <Button color="inherit" size="small" onClick={() => setChosen(new Set())}>
            Choose none
          </Button>
        </Box>
      )}
      {asked && (
        <MoveDialog
          {...asked}
          here={here}
          onClose={(done) => {
            setAsked(null);
            if (done) setChosen(new Set());
          }}
        />
      )}
    </MovesContext>
  );
}

const movedOf = (rows: readonly LibraryRow[]): Moved => ({
  kind: "recordings",
  ids: rows.map(({ id }) => id),
  name: rows.length === 1 ? `“${rows[0]!.title}”` : `${rows.length} recordings`,
  drafts: rows.filter(({ audience }) => audience === "owner").length,
});

/** The poster of a row that can be moved: it is dragged, and chosen by the box in its corner. */
export function Grip({ row, children }: { row: LibraryRow; children: ReactNode }) {
  const moves = useMoves();
  const { setNodeRef, listeners } = useDraggable({ id: row.id, disabled: !moves });
  if (!moves) return children;
  return (
    <Box ref={setNodeRef} {...listeners} sx={{ position: "relative", cursor: "grab" }}>
      {children}
      <Checkbox
        size="small"
        checked={moves.chosen.has(row.id)}
        onChange={(_, is) => moves.choose(row.id, is)}
        slotProps={{ input: { "aria-label": `Choose ${row.title}` } }}
        sx={{
          position: "absolute",
          left: 4,
          top: 4,
          p: 0.25,
          borderRadius: 0,
          bgcolor: "background.paper",
          "&:hover, &.Mui-focusVisible": { bgcolor: "background.paper", outline: "2px solid" },
        }}
      />
    </Box>
  );
}
