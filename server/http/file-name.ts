/** A name for a file on any computer: what some of them do not take is a space there. */
export const fileName = (text: string): string =>
  text
    .replaceAll(/[\p{Cc}<>:"/\\|?*]+/gu, " ")
    .replaceAll(/\s+/g, " ")
    .trim()
    .slice(0, 60)
    .replace(/[. ]+$/, "") || "Untitled";
