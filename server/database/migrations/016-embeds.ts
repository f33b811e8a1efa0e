/** Recordings in the pages of other sites. */
export const embeds = /* sql */ `
-- the sites that may show a workspace's recordings in their pages, by their origins
alter table workspaces add column sites text[] not null default '{}' check (cardinality(sites) <= 50);
`;
