/** Recordings as one file, and who may have it; programs that say who may open something. */
export const films = /* sql */ `
-- others than its owner may have it as a file
alter table recordings add column downloads boolean not null default false;

-- a recording as one file: the last one that was asked for
create table films (
  recording_id uuid primary key references recordings on delete cascade,
  -- of this very asking
  id uuid not null unique,
  -- what it shows
  revision integer not null,
  state text not null default 'waiting' check (state in ('waiting', 'ready', 'failed')),
  -- how far it is, of so much
  done integer not null default 0,
  wanted integer not null default 0,
  -- why it could not be made, for the person
  problem text,
  -- what is stored, where it is ready, and its bytes
  key text,
  size bigint,
  asked_at timestamptz not null default now(),
  made_at timestamptz,
  check ((state = 'ready') = (key is not null))
);
create index films_waiting on films (recording_id) where state = 'waiting';

alter table programs drop constraint programs_scopes_check, add constraint programs_scopes_check
  check (scopes <@ array['read', 'answers', 'change', 'share'] and cardinality(scopes) > 0);
`;
