import Box from "@mui/material/Box";
import type { ReactNode } from "react";
import { Folded } from "../components/Folded";
import { When } from "../components/When";

interface Props<T> {
  title: string;
  /** what the list is called */
  label: string;
  all: readonly T[];
  /** a list item, with its key */
  row: (one: T) => ReactNode;
  /** how another one is made */
  children: ReactNode;
}

/** Things that somebody has made and can end: how many in one line; opened, each of them, and a form for another. */
export function FoldedList<T>({ title, label, all, row, children }: Props<T>) {
  return (
    <Folded title={title} value={all.length === 0 ? "none" : String(all.length)}>
      {all.length > 0 && (
        <Box component="ul" aria-label={label} sx={{ listStyle: "none", m: 0, p: 0 }}>
          {all.map(row)}
        </Box>
      )}
      {children}
    </Folded>
  );
}

/** When something was made, and last used. */
export function MadeAndUsed({ madeAt, usedAt }: { madeAt: string; usedAt: string | null }) {
  return (
    <>
      made <When at={madeAt} />,{" "}
      {usedAt ? (
        <>
          last used <When at={usedAt} />
        </>
      ) : (
        "not used yet"
      )}
    </>
  );
}
