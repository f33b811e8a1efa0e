/** Programs that act for people. */
export const programs = /* sql */ `
-- what acts for somebody in one of their workspaces, by a secret of which only the HMAC is here
create table programs (
  id uuid primary key,
  person_id uuid not null references people on delete cascade,
  workspace_id uuid not null references workspaces on delete cascade,
  name text not null,
  scopes text[] not null check (scopes <@ array['read', 'answers', 'change'] and cardinality(scopes) > 0),
  secret bytea not null unique,
  made_at timestamptz not null default now(),
  last_at timestamptz,
  -- null for as long as nobody ends it
  ends_at timestamptz
);
create index programs_person on programs (person_id, made_at);
create index programs_workspace on programs (workspace_id);
`;
