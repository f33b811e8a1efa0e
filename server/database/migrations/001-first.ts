/**
 * Times named `_us` are whole microseconds. `created_at` and its kin are moments on the wall clock.
 * Segments are the one big table: about 1,800 rows for each track and recorded hour.
 */
export const first = /* sql */ `
create extension if not exists pg_trgm;

create table workspaces (
  id uuid primary key,
  name text not null,
  created_at timestamptz not null default now()
);

create table members (
  id uuid primary key,
  workspace_id uuid not null references workspaces on delete cascade,
  name text not null,
  email text not null unique check (email = lower(email)),
  password_hash text not null,
  role text not null check (role in ('owner', 'member')),
  created_at timestamptz not null default now()
);
create index members_workspace on members (workspace_id);

-- id is the SHA-256 of what the cookie holds, so a copy of this table signs nobody in
create table sessions (
  id bytea primary key,
  member_id uuid not null references members on delete cascade,
  created_at timestamptz not null default now(),
  expires_at timestamptz not null
);
create index sessions_member on sessions (member_id);
create index sessions_expiry on sessions (expires_at);

create table recordings (
  id uuid primary key,
  workspace_id uuid not null references workspaces on delete cascade,
  owner_id uuid not null references members on delete cascade,
  title text not null check (title <> ''),
  token text not null unique,
  audience text not null default 'owner' check (audience in ('owner', 'anyone')),
  poster_key text,
  duration_us bigint not null default 0,
  created_at timestamptz not null default now(),
  deleted_at timestamptz
);
create index recordings_newest on recordings (workspace_id, created_at desc, id desc) where deleted_at is null;
create index recordings_title on recordings (workspace_id, lower(title), id) where deleted_at is null;
create index recordings_length on recordings (workspace_id, duration_us desc, id desc) where deleted_at is null;
create index recordings_deleted on recordings (deleted_at) where deleted_at is not null;
create index recordings_search on recordings using gin (title gin_trgm_ops);

-- expected: once the recorder has stopped, how many segments each track has, such as {"screen": 31, "microphone": 31}
create table takes (
  id uuid primary key,
  recording_id uuid not null references recordings on delete cascade,
  position integer not null,
  source text not null check (source in ('screen-camera', 'screen', 'camera', 'voice')),
  state text not null default 'recording' check (state in ('recording', 'uploading', 'complete')),
  paused boolean not null default false,
  layout jsonb not null default '[]',
  expected jsonb,
  started_at timestamptz not null default now(),
  heard_at timestamptz not null default now(),
  unique (recording_id, position)
);

create table tracks (
  id uuid primary key,
  take_id uuid not null references takes on delete cascade,
  kind text not null check (kind in ('screen', 'camera', 'microphone', 'sound')),
  init_key text not null,
  init_digest bytea not null,
  init jsonb not null,
  unique (take_id, kind)
);

create table segments (
  track_id uuid not null references tracks on delete cascade,
  number integer not null check (number >= 1),
  start_us bigint not null,
  duration_us bigint not null check (duration_us > 0),
  frames integer not null,
  size integer not null,
  digest bytea not null,
  key text not null,
  stored_at timestamptz not null default now(),
  primary key (track_id, number)
);

create table revisions (
  id uuid primary key,
  recording_id uuid not null references recordings on delete cascade,
  number integer not null,
  recipe jsonb not null,
  published_at timestamptz not null default now(),
  unique (recording_id, number)
);
`;
