/** Of what one window has saved, what was sent later counts, whichever comes first. */
export const draftOrder = /* sql */ `
alter table drafts add column saved_nth integer not null default 0;
`;
