/** Recordings that nobody uses go, where a workspace wants that. */
export const retention = /* sql */ `
-- after so many days without use recordings are deleted; empty: never
alter table workspaces add column unused_days integer check (unused_days between 30 and 3650);
create index workspaces_letting_go on workspaces (id) where unused_days is not null;
alter table recordings
  -- it was of use then, or later: looked up in what was opened and published when it matters
  add column used_at timestamptz not null default now(),
  -- it does not go, used or not
  add column spared boolean not null default false,
  -- its sender was told that it is deleted then
  add column goes_at timestamptz;
update recordings set used_at = created_at;
create index recordings_used on recordings (workspace_id, used_at, id) where deleted_at is null and not spared;
create index recordings_going on recordings (workspace_id) where goes_at is not null and deleted_at is null;

alter table inbox drop constraint inbox_kind_check, add constraint inbox_kind_check check (kind in
    ('comment', 'reply', 'not-clear', 'answer', 'reaction', 'view', 'owed', 'folder', 'ready', 'trouble', 'unused'));

-- it does not go after all: nothing is to be told
create function let_stay() returns trigger language plpgsql as $$
begin
  delete from inbox where subject = new.id and kind = 'unused';
  return null;
end $$;
create trigger let_stay after update of goes_at on recordings
  for each row when (old.goes_at is not null and new.goes_at is null) execute function let_stay();
`;
