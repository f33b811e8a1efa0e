/** What the record desk keeps: set-ups, what a recording is about, and how long and how much may be recorded. */
export const desk = /* sql */ `
alter table recordings
  add column description text not null default '',
  add column tags text[] not null default '{}';

-- what all segments of a complete take hold; null while it comes in
alter table takes add column bytes bigint;
update takes t set bytes = coalesce((
    select sum(s.size) from tracks k join segments s on s.track_id = k.id where k.take_id = t.id), 0)
 where t.state = 'complete';

-- null where there is no limit
alter table workspaces
  add column longest_take_us bigint check (longest_take_us > 0),
  add column storage_bytes bigint check (storage_bytes >= 0);

-- wishes is what the recorder's page wants, as JSON
create table set_ups (
  id uuid primary key,
  person_id uuid not null references people on delete cascade,
  name text not null,
  wishes jsonb not null,
  -- the one that the recorder's page starts with
  is_first boolean not null default false
);
create unique index set_ups_name on set_ups (person_id, lower(name));
create unique index set_ups_first on set_ups (person_id) where is_first;
`;
