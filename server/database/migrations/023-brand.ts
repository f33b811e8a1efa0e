/** How the links of a workspace look. */
export const brand = /* sql */ `
-- the colours that were chosen, as #rrggbb; null for ours
alter table workspaces add column accent text check (accent ~ '^#[\\da-f]{6}$'),
  add column bar text check (bar ~ '^#[\\da-f]{6}$');

-- the emblem of a workspace, as WebP, by the beginning of its SHA-256
create table emblems (
  workspace_id uuid primary key references workspaces on delete cascade,
  digest text not null,
  width int not null,
  height int not null,
  bytes bytea not null
);
create index emblems_digest on emblems (digest);
`;
