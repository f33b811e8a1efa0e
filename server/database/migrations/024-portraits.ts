/** What stands for people beside their words. */
export const portraits = /* sql */ `
-- as WebP, by the beginning of its SHA-256
create table portraits (
  person_id uuid primary key references people on delete cascade,
  digest text not null,
  bytes bytea not null
);
create index portraits_digest on portraits (digest);
`;
