/** Codes by mail for the people of folders as well. */
export const codes = /* sql */ `
-- proves that somebody reads the mail of an address: for the pass that they get by it, of an invite or of a folder.
-- One that was made a quarter of an hour ago opens nothing anyway.
drop table codes;
create table codes (
  pass uuid primary key,
  hash bytea not null,
  ends_at timestamptz not null,
  tries integer not null default 0
);
create index codes_end on codes (ends_at);
`;
