/** Feeds of folders. */
export const feeds = /* sql */ `
-- what a feed reader of somebody asks for, of one folder
create table feeds (
  id uuid primary key,
  person_id uuid not null references people on delete cascade,
  folder_id uuid not null references folders on delete cascade,
  key bytea not null unique,
  made_at timestamptz not null default now(),
  -- when it was last asked for, to some minutes
  asked_at timestamptz,
  unique (person_id, folder_id)
);
create index feeds_folder on feeds (folder_id);
`;
