/** What a recording is asked for by: its token, its id, or the id of one of its takes. */
export type FactsBy = "token" | "id" | "take";

const WHERE: Record<FactsBy, string> = {
  token: "r.token = $1",
  id: "r.id = $1",
  take: "r.id = (select recording_id from takes where id = $1)",
};

const ms = (moment: string) => `(extract(epoch from ${moment}) * 1000)::float8`;

/** What decides who may do what with a recording. */
export const factsBy = (by: FactsBy) => /* sql */ `
select r.id, r.token, r.owner_id as "ownerId", r.workspace_id as "workspaceId", r.audience,
       ${ms("r.deleted_at")} as "deletedAt", ${ms("r.opens_at")} as "opensAt", ${ms("r.ends_at")} as "endsAt",
       r.password_id as password, r.comments, r.downloads, r.asks_names as "asksNames", n.named, d.folder
  from recordings r
  cross join lateral (
    select json_build_object(
             'people', coalesce(json_agg(i.person_id) filter (where i.person_id is not null), '[]'),
             'passes', coalesce(json_agg(i.pass), '[]')) as named
      from invites i where i.recording_id = r.id) n
  cross join lateral (
    select json_build_object(
             'people', coalesce(json_agg(p.person_id) filter (where p.person_id is not null), '[]'),
             'passes', coalesce(json_agg(p.pass) filter (where p.id is not null), '[]'),
             'colleagues', coalesce(bool_or(f.colleagues_here is not null), false)) as folder
      from folders f left join folder_people p on p.folder_id = any(f.path) where f.id = r.folder_id) d
 where ${WHERE[by]}`;

/** What decides who may do what with folder $1, and what it and those above are called. */
export const FOLDER_FACTS = /* sql */ `
select f.id, f.workspace_id as "workspaceId", w.name as "workspaceName", a.above, p.people
  from folders f join workspaces w on w.id = f.workspace_id
  cross join lateral (
    select json_agg(json_build_object('id', u.id, 'name', u.name, 'colleagues', u.colleagues,
                                      'colleaguesHere', u.colleagues_here) order by cardinality(u.path)) as above
      from folders u where u.id = any(f.path)) a
  cross join lateral (
    select coalesce(json_agg(json_build_object('folderId', q.folder_id, 'personId', q.person_id, 'may', q.may,
                                               'pass', q.pass)), '[]') as people
      from folder_people q where q.folder_id = any(f.path)) p
 where f.id = $1`;

/** Was link $1 given up for a new one, of a recording that is there? */
export const REPLACED = /* sql */ `
select 1 from old_links o join recordings r on r.id = o.recording_id
 where o.token = $1 and r.deleted_at is null and r.audience <> 'owner'`;
