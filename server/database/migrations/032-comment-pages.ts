/** Comments and reactions are read by pages, the newest first; and counted along the line. */
export const commentPages = /* sql */ `
create index comments_newest on comments (recording_id, created_at desc, id desc);
create index comments_begun on comments (recording_id, at_us) where reply_to is null;
create index reactions_newest on reactions (recording_id, created_at desc, id desc);
`;
