/** Whoever was taken out of a workspace comes back by no link that is for whoever has it. */
export const removed = /* sql */ `
create table removed_members (
  workspace_id uuid not null references workspaces on delete cascade,
  person_id uuid not null references people on delete cascade,
  at timestamptz not null default now(),
  primary key (workspace_id, person_id)
);
create index removed_members_person on removed_members (person_id);

-- nobody becomes an owner by a link that is for whoever has it
update join_links set closed_at = now() where role = 'owner' and address is null and closed_at is null;
`;
