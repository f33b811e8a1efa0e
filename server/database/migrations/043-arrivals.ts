/**
 * When a recording has come to lie in a folder where its people can see it; null where it has been there since it was
 * recorded. The conditions are those of `shelved`, by which people are told.
 */
export const arrivals = /* sql */ `
alter table recordings add column arrived_at timestamptz;

create function note_arrival() returns trigger language plpgsql as $$
begin
  new.arrived_at := greatest(now(), new.opens_at);
  return new;
end $$;
create trigger arrives before update of folder_id, audience, owed, deleted_at on recordings for each row
  when (new.folder_id is not null and new.deleted_at is null and new.audience in ('folder', 'workspace', 'anyone')
        and new.owed <> 'arriving'
        and (old.folder_id is distinct from new.folder_id or old.owed = 'arriving' or old.deleted_at is not null
             or old.audience not in ('folder', 'workspace', 'anyone')))
  execute function note_arrival();

create index recordings_arrived on recordings (folder_id, (coalesce(arrived_at, created_at)) desc, id desc)
  where folder_id is not null;
`;
