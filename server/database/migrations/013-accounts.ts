/** Where somebody is signed in, letters that prove who they are, and invitations into a workspace by address. */
export const accounts = /* sql */ `
-- when a session was last used, to some minutes; what the browser said of itself
alter table sessions add column last_at timestamptz not null default now(), add column agent text not null default '';

-- what a letter proves for whoever has it: a new password may be set, an address is theirs. One of a kind for a person;
-- hash is the HMAC of what stands in its link
create table proofs (
  person_id uuid not null references people on delete cascade,
  kind text not null check (kind in ('reset', 'address')),
  hash bytea not null unique,
  -- the address that is proved
  address text,
  ends_at timestamptz not null,
  primary key (person_id, kind)
);

-- a link that was mailed to somebody lets in one person
alter table join_links add column address text;
`;
