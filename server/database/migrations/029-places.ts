/** Outside places that films are sent to. */
export const places = /* sql */ `
create table places (
  id uuid primary key,
  workspace_id uuid not null references workspaces on delete cascade,
  kind text not null check (kind in ('webdav')),
  name text not null,
  address text not null,
  account text not null default '',
  -- sealed: it is told to the place as it is
  secret bytea not null,
  -- their own order, from 0
  position integer not null,
  made_at timestamptz not null default now()
);
create index places_of_workspaces on places (workspace_id, position);

-- a film at a place, or on its way there
create table sendings (
  id uuid primary key,
  recording_id uuid not null references recordings on delete cascade,
  -- null where the place was given up since
  place_id uuid references places on delete set null,
  -- what that is called
  place_name text not null,
  state text not null default 'waiting'
    check (state in ('waiting', 'sending', 'processing', 'there', 'failed', 'removing')),
  -- bytes that are there, of so many
  done bigint not null default 0,
  size bigint not null default 0,
  -- what it is called there, where it is watched, and where an upload goes on
  remote text,
  link text,
  resume text,
  -- the revision that is there; null where none is yet
  revision integer,
  problem text,
  tries integer not null default 0,
  asked_at timestamptz not null default now(),
  unique (recording_id, place_id)
);
create index sendings_of_places on sendings (place_id) where place_id is not null;
create index sendings_under_way on sendings (id) where state in ('waiting', 'sending', 'processing', 'removing');
`;
