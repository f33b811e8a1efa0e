/** Feeds of clients, who come to a folder by a personal link. */
export const clientFeeds = /* sql */ `
alter table feeds alter column person_id drop not null,
  add column folder_person_id uuid references folder_people on delete cascade,
  -- what their personal link showed: given another one, the feed is nobody's
  add column pass uuid,
  add constraint feeds_whose
    check ((person_id is null) = (folder_person_id is not null) and (folder_person_id is null) = (pass is null)),
  add constraint feeds_of_clients unique (folder_person_id, folder_id);
`;
