import { useEffect, useLayoutEffect } from "react";

/**
 * What is pressed or typed before the page's code has come, or while it wakes up, would do nothing. The last button or
 * key is kept and pressed again, and what stands in fields is typed again, when the page can answer. Links, forms and
 * folds answer by themselves, and are left alone.
 */
declare global {
  var earlyPress:
    | {
        keep: (event: Event) => void;
        /** the last press, or key that belongs to the page and to no part of it */
        last?: Event;
        /** what stood in fields: waking up empties them */
        typed: Map<HTMLInputElement | HTMLTextAreaElement, string>;
      }
    | undefined;
}

const KEPT = ["click", "input", "keydown"];

/** Runs in the head of every page, before anything can be pressed. */
export const KEEP_EARLY_PRESS = `earlyPress = {
  typed: new Map(),
  keep(event) {
    const { type, target } = event;
    if (type === "input") {
      if (target.matches("input:not([type=checkbox], [type=radio], [type=file]), textarea"))
        earlyPress.typed.set(target, target.value);
    } else if (type === "click" || (target === document.body && !event.ctrlKey && !event.metaKey && !event.altKey)) {
      earlyPress.last = event;
    }
  },
};
for (const type of ${JSON.stringify(KEPT)}) addEventListener(type, earlyPress.keep, true);`;

/** From now on whatever is pressed and typed is answered: makes what was kept. For what stands around every page. */
export function useEarlyPress(): void {
  const early = globalThis.earlyPress;
  useLayoutEffect(() => {
    if (!early) return;
    for (const type of KEPT) removeEventListener(type, early.keep, true);
    delete globalThis.earlyPress;
    // What is still on its way is what has woken the page up, and is answered by that.
    if (early.last?.eventPhase !== Event.NONE) early.last = undefined;
  }, [early]);
  useEffect(() => {
    if (!early) return;
    const { last, typed } = early;
    // Whatever woke up with the page has been drawn once, with what it listens to.
    requestAnimationFrame(() =>
      setTimeout(() => {
        for (const [field, words] of typed) if (field.isConnected) typeAgain(field, words);
        if (last) pressAgain(last);
      }),
    );
  }, [early]);
}

function pressAgain(event: Event): void {
  if (event instanceof KeyboardEvent) document.body.dispatchEvent(new KeyboardEvent(event.type, event));
  else (event.target as Element).closest<HTMLButtonElement>("button[type=button]")?.click();
}

/**
 * React hears of a change where a value is another than the one it has set or found; so it is first told of none (by
 * the field itself), and then the field gets its words past it.
 */
function typeAgain(field: HTMLInputElement | HTMLTextAreaElement, words: string): void {
  field.value = "";
  Object.getOwnPropertyDescriptor(Object.getPrototypeOf(field), "value")!.set!.call(field, words);
  field.dispatchEvent(new Event("input", { bubbles: true }));
}
