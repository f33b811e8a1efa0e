/**
 * A button that is pressed before the page's code has come, or while it wakes up, would do nothing. The last such press
 * is kept, and made again when the button can answer. Links, forms and folds answer by themselves, and are left alone.
 */
declare global {
  var earlyPress: { keep: (press: Event) => void; press?: Event; button?: HTMLButtonElement | null } | undefined;
}

/** Runs in the head of every page, before anything can be pressed. */
export const KEEP_EARLY_PRESS = `earlyPress = {
  keep(press) {
    earlyPress.press = press;
    earlyPress.button = press.target.closest("button[type=button]");
  },
};
addEventListener("click", earlyPress.keep, true);`;

/** From now on whatever is pressed is answered: makes the press that was kept. */
export function makeEarlyPress(): void {
  const early = globalThis.earlyPress;
  if (!early) return;
  removeEventListener("click", early.keep, true);
  delete globalThis.earlyPress;
  const { press, button } = early;
  // A press that is still on its way is what has woken the page up, and is answered by that.
  if (press && press.eventPhase === Event.NONE) setTimeout(() => button?.isConnected && button.click());
}
