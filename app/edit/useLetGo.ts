import { useState } from "react";

/**
 * A slider that sets its value when it is let go: one step of an edit, and not one for each place on the way.
 * @returns what is seen of it meanwhile, and what the slider is given
 */
export function useLetGo(value: number, onSet: (value: number) => void) {
  const [moved, setMoved] = useState<number | null>(null);
  const shown = moved ?? value;
  const slider = {
    value: shown,
    onChange: (_: unknown, to: number | number[]) => setMoved(to as number),
    onChangeCommitted: (_: unknown, to: number | number[]) => {
      setMoved(null);
      onSet(to as number);
    },
  };
  return { shown, slider };
}
