/** Letters by which somebody starts an account: what stands in their link, hashed, and where they went. */
export const starts = /* sql */ `
create table starts (
  hash bytea primary key,
  email text not null,
  made_at timestamptz not null default now(),
  ends_at timestamptz not null
);
create index starts_email on starts (email, made_at);
create index starts_ends on starts (ends_at);
`;
