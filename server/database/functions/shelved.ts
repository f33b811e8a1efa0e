/** A recording has come to lie in a folder, where its people can see it. */
const SHELVED = `update of folder_id, audience, owed, deleted_at on recordings for each row
  when (new.folder_id is not null and new.deleted_at is null and new.audience in ('folder', 'workspace', 'anyone')
        and new.owed <> 'arriving'
        and (old.folder_id is distinct from new.folder_id or old.owed = 'arriving' or old.deleted_at is not null
             or old.audience not in ('folder', 'workspace', 'anyone')))`;

/** When that was, and that each of its people is told so once. */
export const shelved = /* sql */ `
create function note_arrival() returns trigger language plpgsql as $$
begin
  new.arrived_at := greatest(now(), new.opens_at);
  return new;
end $$;
create trigger arrives before ${SHELVED} execute function note_arrival();

create function tell_of_shelved() returns trigger language plpgsql as $$
declare
  folder folders := (select f from folders f where f.id = new.folder_id);
  due timestamptz := greatest(now(), new.opens_at);
begin
  insert into inbox (person_id, subject, kind, recording_id, at, due_at)
  select person_id, new.id, 'folder', new.id, now(), due from (
    select p.person_id from folder_people p where p.folder_id = any(folder.path) and p.person_id is not null
     union
    select m.person_id from members m where m.workspace_id = folder.workspace_id and folder.colleagues_here is not null) t
   where person_id <> new.owner_id
  on conflict do nothing;
  insert into folder_news (folder_person_id, recording_id, due_at)
  select distinct on (coalesce(p.email, p.id::text)) p.id, new.id, due
    from folder_people p where p.folder_id = any(folder.path) and p.person_id is null
  on conflict do nothing;
  return null;
end $$;
create trigger shelved after ${SHELVED} execute function tell_of_shelved();
`;
