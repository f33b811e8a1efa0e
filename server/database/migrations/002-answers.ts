/**
 * What comes back: who opened a link, what they said, and what they watched. Moments are source time in microseconds; a
 * recording has one take,
 * so they need no take beside them yet.
 */
export const answers = /* sql */ `
alter table recordings add column chapters jsonb not null default '[]', add column captions jsonb not null default '[]';
create index recordings_owner on recordings (owner_id, created_at desc) where deleted_at is null;

-- a browser without an account; key is the HMAC of what its cookie holds, as with sessions
create table guests (
  id uuid primary key,
  key bytea not null unique,
  name text check (name <> ''),
  created_at timestamptz not null default now()
);

-- somebody whom the sender asks; key is what stands in their personal link
create table invites (
  id uuid primary key,
  recording_id uuid not null references recordings on delete cascade,
  name text not null check (name <> ''),
  email text,
  member_id uuid references members on delete set null,
  key text not null unique,
  created_at timestamptz not null default now()
);
create unique index invites_address on invites (recording_id, email) where email is not null;
create index invites_recording on invites (recording_id, created_at);
create index invites_member on invites (member_id) where member_id is not null;

-- number: the viewer's row in the figures, from 0; the sender's is -1 and is left out of them
create table viewers (
  id uuid primary key,
  recording_id uuid not null references recordings on delete cascade,
  number integer not null,
  member_id uuid references members on delete cascade,
  guest_id uuid references guests on delete cascade,
  invite_id uuid references invites on delete set null,
  named boolean not null default true,
  first_opened_at timestamptz not null default now(),
  last_opened_at timestamptz not null default now(),
  check ((member_id is null) <> (guest_id is null)),
  unique (recording_id, number),
  unique (recording_id, member_id),
  unique (recording_id, guest_id)
);
create index viewers_latest on viewers (recording_id, last_opened_at desc, number);
create index viewers_member on viewers (member_id) where member_id is not null;
create index viewers_guest on viewers (guest_id) where guest_id is not null;
create index viewers_invite on viewers (invite_id) where invite_id is not null;

create table comments (
  id uuid primary key,
  recording_id uuid not null references recordings on delete cascade,
  viewer_id uuid not null references viewers on delete cascade,
  reply_to uuid references comments on delete cascade,
  body text not null check (body <> ''),
  -- for a comment that was read from a file: the name that the file gave
  imported_from text,
  at_us bigint not null check (at_us >= 0),
  until_us bigint check (until_us > at_us),
  created_at timestamptz not null default now(),
  edited_at timestamptz,
  resolved_at timestamptz,
  -- taken back by its author while others had replied: its words are gone, its place stays
  removed_at timestamptz
);
create index comments_recording on comments (recording_id, at_us, created_at);
create index comments_thread on comments (reply_to) where reply_to is not null;
create index comments_viewer on comments (viewer_id);

create table reactions (
  id uuid primary key,
  recording_id uuid not null references recordings on delete cascade,
  viewer_id uuid not null references viewers on delete cascade,
  kind text not null check (kind in ('got-it', 'not-clear', 'good-point', 'smile', 'thanks')),
  at_us bigint not null check (at_us >= 0),
  created_at timestamptz not null default now()
);
create index reactions_recording on reactions (recording_id, at_us);
create index reactions_viewer on reactions (viewer_id);

create table asks (
  recording_id uuid primary key references recordings on delete cascade,
  kind text not null check (kind in ('nod', 'choice', 'words')),
  question text not null default '',
  choices jsonb not null default '[]',
  due date,
  closed boolean not null default false
);

create table answers (
  id uuid primary key,
  recording_id uuid not null references recordings on delete cascade,
  viewer_id uuid not null unique references viewers on delete cascade,
  answer jsonb not null,
  answered_at timestamptz not null default now()
);
create index answers_recording on answers (recording_id, answered_at desc);

-- what has happened, in the order in which it was committed for each recording: live pages read on from where they were
create table events (
  id bigint generated always as identity primary key,
  recording_id uuid not null references recordings on delete cascade,
  kind text not null check (kind in ('comment', 'reaction', 'ask', 'answer', 'viewer')),
  subject uuid,
  sender_only boolean not null default false,
  at timestamptz not null default now()
);
create index events_recording on events (recording_id, id);
create index events_at on events (at);

-- pages that are open now; rows that were not renewed are of a process that died
create table open_pages (
  id uuid primary key,
  recording_id uuid not null references recordings on delete cascade,
  viewer_id uuid not null references viewers on delete cascade,
  renewed_at timestamptz not null default now()
);
create index open_pages_recording on open_pages (recording_id, renewed_at);

-- what a member has read of what waits for them
create table reads (
  member_id uuid not null references members on delete cascade,
  subject uuid not null,
  read_at timestamptz not null default now(),
  primary key (member_id, subject)
);

-- made: the transaction that wrote the row, so that what was not there at the last fold can be told from what was
create table spans (
  recording_id uuid not null references recordings on delete cascade,
  viewer_number integer not null,
  batch uuid not null,
  n smallint not null,
  from_us bigint not null check (from_us >= 0),
  to_us bigint not null check (to_us > from_us),
  rate real not null,
  played_at timestamptz not null default now(),
  made xid8 not null default pg_current_xact_id(),
  primary key (recording_id, viewer_number, batch, n)
);
create index spans_made on spans (recording_id, made);

-- what the spans written before transaction through come to, and what lists show of it; strip has a byte for each part of the length
create table folds (
  recording_id uuid primary key references recordings on delete cascade,
  folded bytea not null,
  through xid8 not null,
  watched integer not null,
  finished integer not null,
  share real not null,
  strip bytea not null
);
`;
