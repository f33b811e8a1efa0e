import { useEffect, useState } from "react";

const EVERY_MS = 5_000;

/** Whether the server answers; null until that was tried. Tried again and again until it does. */
export function useReached(): boolean | null {
  const [reached, setReached] = useState<boolean | null>(null);
  useEffect(() => {
    let gone = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const look = async () => {
      const answers = await fetch("/readyz", { cache: "no-store" }).then(
        (answer) => answer.ok,
        () => false,
      );
      if (gone) return;
      setReached(answers);
      if (!answers) timer = setTimeout(() => void look(), EVERY_MS);
    };
    void look();
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, []);
  return reached;
}
