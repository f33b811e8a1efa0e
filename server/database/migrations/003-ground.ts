/** What has been done to this database as a whole. */
export const ground = /* sql */ `
create table marks (
  name text primary key,
  at timestamptz not null default now()
);
-- a database that has anything in it was loaded by a version that knew no marks
insert into marks (name) select 'sample' where exists (select 1 from workspaces);
`;
