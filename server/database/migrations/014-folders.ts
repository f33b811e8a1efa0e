/** Where recordings lie, and who belongs there. */
export const folders = /* sql */ `
create table folders (
  id uuid primary key,
  workspace_id uuid not null references workspaces on delete cascade,
  parent_id uuid references folders on delete restrict,
  -- those above, the outermost first, and itself: what is under a folder is found by one index
  path uuid[] not null check (cardinality(path) between 1 and 8 and path[cardinality(path)] = id),
  name text not null,
  -- what everybody of the workspace may do: by this folder, and by this or one above
  colleagues text check (colleagues in ('view', 'add')),
  colleagues_here text check (colleagues_here in ('view', 'add')),
  made_at timestamptz not null default now()
);
create index folders_path on folders using gin (path);
create index folders_name on folders (workspace_id, lower(name), id);
create index folders_parent on folders (parent_id, lower(name), id) where parent_id is not null;
create index folders_top on folders (workspace_id, lower(name), id) where parent_id is null;
create index folders_colleagues on folders (workspace_id) where colleagues_here is not null;

-- who belongs to a folder, and to everything under it
create table folder_people (
  id uuid primary key,
  folder_id uuid not null references folders on delete cascade,
  name text not null,
  email text,
  -- known by their account; whoever is not comes by the personal link
  person_id uuid references people on delete cascade,
  may text not null check (may in ('view', 'add', 'manage')),
  -- the personal link, and what whoever came by it shows; both are given up together
  key text not null unique,
  pass uuid not null unique default gen_random_uuid(),
  added_at timestamptz not null default now(),
  mailed_at timestamptz,
  bounced text
);
create unique index folder_people_once on folder_people (folder_id, person_id) where person_id is not null;
create unique index folder_people_address on folder_people (folder_id, email) where email is not null;
create index folder_people_folder on folder_people (folder_id, added_at, id);
create index folder_people_person on folder_people (person_id, folder_id) where person_id is not null;

alter table recordings add column folder_id uuid references folders on delete set null,
  drop constraint recordings_audience_check,
  add constraint recordings_audience_check check (audience in ('owner', 'named', 'folder', 'workspace', 'anyone'));
create index recordings_folder on recordings (folder_id, created_at desc, id desc) where folder_id is not null;
`;
