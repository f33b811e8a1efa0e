/** What the page knows that opens right after Stop. */
export interface JustRecorded {
  justRecorded: true;
}
export const JUST_RECORDED: JustRecorded = { justRecorded: true };
