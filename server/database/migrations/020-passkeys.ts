/** Passkeys (WebAuthn). */
export const passkeys = /* sql */ `
-- by what somebody signs in without a password
create table passkeys (
  -- the credential's id, base64url
  id text primary key check (length(id) between 1 and 1400),
  person_id uuid not null references people on delete cascade,
  public_key bytea not null,
  -- how often it was used, as it says itself; 0 for ever where it does not count
  counter bigint not null,
  transports text[] not null,
  -- the browser in which it was made
  name text not null,
  made_at timestamptz not null default now(),
  used_at timestamptz
);
create index passkeys_person on passkeys (person_id, made_at);

-- what a passkey is to sign next, once
create table challenges (
  hash bytea primary key,
  -- who adds a passkey; nobody where somebody signs in
  person_id uuid references people on delete cascade,
  ends_at timestamptz not null
);
create index challenges_end on challenges (ends_at);
create index challenges_person on challenges (person_id);
`;
