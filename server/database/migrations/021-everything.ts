/** What one person has made, deleted or not, in all workspaces. */
export const everything = /* sql */ `
create index recordings_made on recordings (owner_id, created_at, id);
`;
