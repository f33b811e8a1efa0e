import Close from "@mui/icons-material/Close";
import DragIndicator from "@mui/icons-material/DragIndicator";
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type Announcements,
  type UniqueIdentifier,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import InputBase from "@mui/material/InputBase";
import TextField from "@mui/material/TextField";
import { useState, type ReactNode } from "react";
import { MOST_LINES, moved, type Line } from "#core/desk/prompts";
import { POINT_MAX } from "#core/layout/entry";

interface Props {
  /** what the list is of: `Talking points` */
  name: string;
  /** what is added: `Next point` */
  addName: string;
  lines: readonly Line[];
  onLines: (lines: Line[]) => void;
  /** stands before each line */
  before?: (line: Line) => ReactNode;
}

/** Lines that a person writes, sorts and removes: by dragging, or by keys at the handle. */
export function LineList({ name, addName, lines, onLines, before }: Props) {
  const [text, setText] = useState("");
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const add = () => {
    if (text.trim() === "" || lines.length >= MOST_LINES) return;
    onLines([...lines, { id: crypto.randomUUID(), text: text.trim() }]);
    setText("");
  };
  return (
    <Box>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        accessibility={{ announcements: announcementsOf(lines) }}
        onDragEnd={({ active, over }) => over && onLines(moved(lines, String(active.id), String(over.id)))}
      >
        <SortableContext items={lines.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
          <Box component="ul" aria-label={name} sx={{ m: 0, p: 0, listStyle: "none" }}>
            {lines.map((line) => (
              <Row
                key={line.id}
                line={line}
                before={before?.(line)}
                onText={(next) => onLines(lines.map((l) => (l.id === line.id ? { ...l, text: next } : l)))}
                onRemove={() => onLines(lines.filter((l) => l.id !== line.id))}
              />
            ))}
          </Box>
        </SortableContext>
      </DndContext>
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <TextField
          size="small"
          fullWidth
          label={addName}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => e.key === "Enter" && add()}
          disabled={lines.length >= MOST_LINES}
          slotProps={{ htmlInput: { maxLength: POINT_MAX } }}
        />
        <Button onClick={add} disabled={text.trim() === ""}>
          Add
        </Button>
      </Box>
    </Box>
  );
}

/** What a screen reader says while a line is moved: its text and its place, not its id. */
function announcementsOf(lines: readonly Line[]): Announcements {
  const place = (id: UniqueIdentifier) => lines.findIndex((line) => line.id === id) + 1;
  const text = (id: UniqueIdentifier) => `“${lines[place(id) - 1]?.text}”`;
  return {
    onDragStart: ({ active }) => `${text(active.id)} is taken up, from place ${place(active.id)} of ${lines.length}.`,
    onDragOver: ({ active, over }) =>
      over ? `${text(active.id)} is at place ${place(over.id)} of ${lines.length}.` : undefined,
    onDragEnd: ({ active, over }) => `${text(active.id)} is put down at place ${place((over ?? active).id)}.`,
    onDragCancel: ({ active }) => `${text(active.id)} stays at place ${place(active.id)}.`,
  };
}

interface RowProps {
  line: Line;
  before: ReactNode;
  onText: (text: string) => void;
  onRemove: () => void;
}

function Row({ line, before, onText, onRemove }: RowProps) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({
    id: line.id,
  });
  return (
    <Box
      component="li"
      ref={setNodeRef}
      style={{ transform: transform ? `translate3d(0, ${transform.y}px, 0)` : undefined, transition }}
      sx={{ display: "flex", alignItems: "center", borderBottom: "1px solid", borderColor: "mist", minHeight: 40 }}
    >
      <IconButton
        ref={setActivatorNodeRef}
        size="small"
        {...attributes}
        {...listeners}
        aria-label={`Move “${line.text}”`}
        sx={{ cursor: "grab", touchAction: "none" }}
      >
        <DragIndicator fontSize="small" />
      </IconButton>
      {before}
      <InputBase
        fullWidth
        multiline
        value={line.text}
        onChange={(e) => onText(e.target.value.replace(/\n/g, " "))}
        inputProps={{ "aria-label": `Text of “${line.text}”`, maxLength: POINT_MAX }}
      />
      <IconButton size="small" aria-label={`Remove “${line.text}”`} onClick={onRemove}>
        <Close fontSize="small" />
      </IconButton>
    </Box>
  );
}
