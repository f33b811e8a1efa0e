import { startTransition, useEffect, useState } from "react";

/**
 * False until the browser draws. What a page can do without when it comes is drawn there, after what is played: a page
 * is made for everybody who opens it at once, and a hundred threads or marks take longer than all else of it.
 */
export function useDrawn(): boolean {
  const [drawn, setDrawn] = useState(false);
  useEffect(() => startTransition(() => setDrawn(true)), []);
  return drawn;
}
