/** What a recording is asked for by: its token, its id, or the id of one of its takes. */
export type FactsBy = "token" | "id" | "take";

const WHERE: Record<FactsBy, string> = {
  token: "r.token = $1",
  id: "r.id = $1",
  take: "r.id = (select recording_id from takes where id = $1)",
};

/** What decides who may do what with a recording. */
export const factsBy = (by: FactsBy) => /* sql */ `
select r.id, r.token, r.owner_id as "ownerId", r.workspace_id as "workspaceId", r.audience,
       (extract(epoch from r.deleted_at) * 1000)::float8 as "deletedAt"
  from recordings r where ${WHERE[by]}`;
