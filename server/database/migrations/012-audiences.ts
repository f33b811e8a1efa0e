/** Who may open a recording, until when, and with what; what is mailed; codes that prove an address. */
export const audiences = /* sql */ `
alter table recordings drop constraint recordings_audience_check,
  add constraint recordings_audience_check check (audience in ('owner', 'named', 'workspace', 'anyone')),
  -- open from, and until; empty for at once, and for ever
  add column opens_at timestamptz,
  add column ends_at timestamptz,
  -- Argon2id; id names this very password, so that who knew another one is asked again
  add column password_hash text,
  add column password_id uuid,
  add check ((password_hash is null) = (password_id is null)),
  -- may others comment; are guests asked for a name before they say something
  add column comments boolean not null default true,
  add column asks_names boolean not null default true,
  -- eight characters that lead to the link; made when somebody wants them
  add column short text unique;
drop index recordings_shared;
create index recordings_shared on recordings (workspace_id, created_at desc, id desc)
  where deleted_at is null and audience <> 'owner';

-- links that were given up for a new one
create table old_links (
  token text primary key,
  recording_id uuid not null references recordings on delete cascade,
  replaced_at timestamptz not null default now()
);
create index old_links_recording on old_links (recording_id);

-- what whoever came by the personal link shows; given up together with it
alter table invites add column pass uuid not null default gen_random_uuid(),
  -- when it was mailed last, and what came back of it
  add column mailed_at timestamptz,
  add column bounced text;

-- what is to be mailed, and what was; the words go once it is sent, unless they are kept to be looked at
create table mails (
  id uuid primary key,
  kind text not null,
  to_address text not null,
  to_name text,
  -- who sends it and is answered: name and address, as they were then
  sender jsonb,
  sender_id uuid references people on delete cascade,
  subject text not null,
  text text,
  html text,
  recording_id uuid references recordings on delete cascade,
  invite_id uuid references invites on delete set null,
  made_at timestamptz not null default now(),
  sent_at timestamptz,
  failed text
);
create index mails_newest on mails (made_at desc, id desc);
create index mails_sender on mails (sender_id, made_at) where sender_id is not null;
create index mails_recording on mails (recording_id) where recording_id is not null;
create index mails_invite on mails (invite_id) where invite_id is not null;

-- addresses to which nothing is mailed but what they ask for themselves
create table mail_refusals (
  address text primary key,
  refused_at timestamptz not null default now()
);

-- proves that somebody reads the mail of an address, for the invite that it was asked for
create table codes (
  invite_id uuid primary key references invites on delete cascade,
  hash bytea not null,
  ends_at timestamptz not null,
  tries integer not null default 0
);
`;
