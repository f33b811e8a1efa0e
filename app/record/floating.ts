import { tab } from "./tab";

/** The part of Document Picture-in-Picture (WICG) that is used here. */
interface PictureInPicture {
  requestWindow(options: { width: number; height: number }): Promise<Window>;
}
declare global {
  interface Window {
    documentPictureInPicture?: PictureInPicture;
  }
}

/** Room for the state, the level and the controls, and little more: it covers what is being shown. */
const SIZE = { width: 340, height: 470 };
/** With the picture to draw on. */
const DRAWING = { width: 480, height: 790 };

/** Can this browser keep a small window of the page above all others? */
export const canFloat = (): boolean => typeof window !== "undefined" && "documentPictureInPicture" in window;

/** Opens the window for the controls, or closes it. Must be called from a press. */
export async function toggleFloating(): Promise<void> {
  const { floating } = tab.snapshot();
  if (floating) return floating.close();
  let opened: Window;
  try {
    opened = await window.documentPictureInPicture!.requestWindow(SIZE);
  } catch {
    // The browser does not allow it now, as without a press: the controls stay on the page.
    return;
  }
  opened.document.title = document.title;
  opened.document.documentElement.lang = document.documentElement.lang;
  for (const link of document.querySelectorAll("link[rel=stylesheet]"))
    opened.document.head.append(opened.document.importNode(link));
  opened.addEventListener("pagehide", () => tab.tell({ floating: null }), { once: true });
  tab.tell({ floating: opened });
}

/** Makes the window as large as what is done in it needs. */
export function makeRoom(floating: Window, drawing: boolean): void {
  const { width, height } = drawing ? DRAWING : SIZE;
  try {
    floating.resizeTo(width, height);
  } catch {
    // Only after a press in it, as when drawing was begun on the page: then the person makes it as large as they like.
  }
}
