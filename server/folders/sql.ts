import { maySql, type SubjectSql } from "#core/access/access-sql";
import { isoOf } from "../database/moments";
import { ROW_COLUMNS, ROW_TABLES } from "../recordings/sql";

/**
 * Folder $1 and all under it are where their parents say, and everybody of the workspace may there what the folders
 * above say.
 */
export const REFRESH_TREE = /* sql */ `
with recursive tree as (
  select f.id, coalesce(p.path, '{}') || f.id as path,
         case when 'add' in (f.colleagues, p.colleagues_here) then 'add'
              else coalesce(f.colleagues, p.colleagues_here) end as here
    from folders f left join folders p on p.id = f.parent_id where f.id = $1
   union all
  select c.id, t.path || c.id,
         case when 'add' in (c.colleagues, t.here) then 'add' else coalesce(c.colleagues, t.here) end
    from tree t join folders c on c.parent_id = t.id
)
update folders f set path = t.path, colleagues_here = t.here from tree t where f.id = t.id returning f.id`;

/** How many folders workspace $1 has, as far as $2. */
export const COUNT_FOLDERS = /* sql */ `
select count(*)::int as n from (select from folders where workspace_id = $1 limit $2) as counted`;

/** How deep the folders under folder $1 go, counted from it: 1 where there are none. */
export const DEPTH = /* sql */ `
select max(cardinality(c.path)) - min(cardinality(f.path)) + 1 as depth
  from folders f join folders c on c.path @> array[f.id] where f.id = $1`;

/** What lay in folder $1 lies in the one above, or nowhere. */
export const MOVE_UP = /* sql */ `
with parent as (select parent_id from folders where id = $1),
     moved as (update recordings set folder_id = (select parent_id from parent) where folder_id = $1 returning id)
update folders set parent_id = (select parent_id from parent) where parent_id = $1 returning id`;

/** The first $2 folders in folder $1. */
export const CHILDREN = /* sql */ `
select id, name from folders where parent_id = $1 order by lower(name), id limit $2`;

const DIRECT = (f: string) => `exists (select from folder_people p where p.folder_id = ${f}.id and p.person_id = $2)`;
const GIVEN = (f: string) => `(${f}.colleagues is not null or ${DIRECT(f)})`;

/** The outermost $3 folders of workspace $1 that person $2, who belongs to it, may see. @param owner they own it */
export const outermost = (owner: boolean) => /* sql */ `
select f.id, f.name from folders f
 where f.workspace_id = $1 and ${
   owner
     ? "f.parent_id is null and $2::uuid is not null"
     : `${GIVEN("f")}
   and not exists (select from folders a where a.id = any(f.path) and a.id <> f.id and ${GIVEN("a")})`
 }
 order by lower(f.name), f.id limit $3`;

/** The $3 folders that person $2 was given in other workspaces than $1. */
export const ELSEWHERE = /* sql */ `
select f.id, f.name, w.name as workspace
  from folder_people p join folders f on f.id = p.folder_id join workspaces w on w.id = f.workspace_id
 where p.person_id = $2 and f.workspace_id <> $1 order by lower(f.name), f.id limit $3`;

/**
 * The first $4 folders of workspace $1 with $3 in their names to which person $2, who belongs to it, may add; with the
 * names of those above as far as they may see them.
 * @param owner they own it
 */
export const addable = (owner: boolean) => /* sql */ `
select f.id, f.name,
       (select coalesce(json_agg(a.name order by cardinality(a.path)), '[]') from folders a
         where a.id = any(f.path) and a.id <> f.id and (${owner} or a.colleagues_here is not null or a.path && array(
               select folder_id from folder_people where person_id = $2))) as above
  from folders f
 where f.workspace_id = $1 and ($3 = '' or f.name ilike $3) and (${owner} or f.colleagues_here = 'add' or f.path && array(
       select folder_id from folder_people where person_id = $2 and may <> 'view'))
 order by lower(f.name), f.id limit $4`;

/** Whoever of the people of folder $1 belongs to its workspace is known by their account, which has their address. */
export const ADD_FOLDER_PEOPLE = /* sql */ `
insert into folder_people (id, folder_id, name, email, key, person_id, may)
select i.id, f.id, coalesce(m.name, i.name), i.email, i.key, m.id, $6
  from unnest($2::uuid[], $3::text[], $4::text[], $5::text[]) as i(id, name, email, key)
  join folders f on f.id = $1
  left join lateral (
    select m.id, m.name from people m join members b on b.person_id = m.id and b.workspace_id = f.workspace_id
     where m.email = i.email limit 1) m on true
 where not exists (
   select from folder_people o
    where o.folder_id = f.id
      and (o.email = i.email or o.person_id = m.id or (o.email is null and i.email is null and o.name = i.name)))
on conflict do nothing
returning id, name, email, key, person_id as "personId"`;

/** Takes person $1 out of folder $2. */
export const REMOVE_FOLDER_PERSON = /* sql */ `
with gone as (delete from folder_people where id = $1 and folder_id = $2 returning name, email, person_id)
select coalesce(m.name, g.name) as name, coalesce(m.email, g.email) as email, g.person_id as "personId"
  from gone g left join people m on m.id = g.person_id`;

/** The people of the folders $1, the outermost folder first; who of them belongs to workspace $2. */
export const FOLDER_PEOPLE = /* sql */ `
select p.id, p.folder_id as "folderId", coalesce(m.name, p.name) as name, coalesce(m.email, p.email) as email, p.may,
       p.key, p.mailed_at as "mailedAt", p.bounced, b.person_id is not null as "isColleague", p.person_id as "personId"
  from folder_people p join folders f on f.id = p.folder_id
  left join people m on m.id = p.person_id
  left join members b on b.person_id = p.person_id and b.workspace_id = $2
 where p.folder_id = any($1::uuid[]) order by cardinality(f.path), p.added_at, lower(p.name), p.id`;

const LOOKS: SubjectSql = { person: "$2::uuid", workspaces: "$3::uuid[]", folderPasses: "$4::uuid[]" };
/** What lies in folder $1 and somebody may watch: person $2, of workspaces $3, who shows folder passes $4. */
const WATCHABLE = `r.folder_id = $1 and r.deleted_at is null and ${maySql("watch", LOOKS)}`;

/** Of that $5 rows, each with its place; after place $6 and recording $7. */
export const folderPage = (after: boolean) => /* sql */ `
select ${ROW_COLUMNS}, r.created_at::text as position
  from recordings r ${ROW_TABLES}
 where ${WATCHABLE} ${after ? "and (r.created_at, r.id) < ($6::timestamptz, $7::uuid)" : ""}
 order by r.created_at desc, r.id desc limit $5`;

/** Of that the $5 rows that came there last, each with the moment when it did. */
export const ARRIVED = /* sql */ `
select ${ROW_COLUMNS}, coalesce(r.arrived_at, r.created_at) as "arrivedAt"
  from recordings r ${ROW_TABLES}
 where ${WATCHABLE}
 order by coalesce(r.arrived_at, r.created_at) desc, r.id desc limit $5`;

const OWN: SubjectSql = { person: "$2::uuid", workspaces: "array[$3::uuid]" };
/** Those of recordings $1 in workspace $3 that person $2 may change. */
const MINE = `r.id = any($1::uuid[]) and r.workspace_id = $3 and ${maySql("change", OWN, ["owner"])}`;

/** They lie in folder $4, or nowhere. @param open drafts of them are for its people from then on */
export const putIn = (open: boolean) => /* sql */ `
update recordings r set folder_id = $4${open ? ", audience = case r.audience when 'owner' then 'folder' else r.audience end" : ""}
 where ${MINE} returning r.id`;

/** Where they lie and for whom they are, with how many of each. */
export const LYING = /* sql */ `
select r.folder_id as "folderId", r.audience, r.owner_id as "ownerId", count(*)::int as count
  from recordings r where ${MINE} group by 1, 2, 3`;

/** What lies under folder $1: the first $2 groups by folder, audience and owner. */
export const LYING_UNDER = /* sql */ `
select r.folder_id as "folderId", r.audience, r.owner_id as "ownerId", count(*)::int as count
  from folders f join recordings r on r.folder_id = f.id
 where f.path @> array[$1::uuid] and r.deleted_at is null group by 1, 2, 3 limit $2`;

/**
 * The people of each of folders $1 and of those above, each with the folder that names them, and whether they belong to
 * workspace $2; and which folders of the path are open to everybody of it.
 */
export const PEOPLE_OF_PATHS = /* sql */ `
select f.id as of, f.path,
       array(select u.id from folders u where u.id = any(f.path) and u.colleagues is not null) as "openBy",
       coalesce(json_agg(json_build_object(
         'id', coalesce(p.person_id::text, p.email, p.id::text), 'name', coalesce(m.name, p.name), 'by', p.folder_id,
         'isColleague', b.person_id is not null)) filter (where p.id is not null), '[]') as people
  from folders f
  left join folder_people p on p.folder_id = any(f.path)
  left join people m on m.id = p.person_id
  left join members b on b.person_id = p.person_id and b.workspace_id = $2
 where f.id = any($1::uuid[]) group by f.id`;

/** Somebody of workspace $1 who has left ($2) belongs to none of its folders any more. */
export const LEAVE_FOLDERS = /* sql */ `
delete from folder_people p using folders f
 where f.id = p.folder_id and f.workspace_id = $1 and p.person_id = $2 returning p.id`;

/** Feed $1 of person $2 of folder $3 has key $4; the one before has none. */
export const PUT_FEED = /* sql */ `
insert into feeds (id, person_id, folder_id, key) values ($1, $2, $3, $4)
on conflict (person_id, folder_id) do update
   set id = excluded.id, key = excluded.key, made_at = now(), asked_at = null`;

/** The same of a client, whose personal link shows $2. */
export const PUT_CLIENT_FEED = /* sql */ `
insert into feeds (id, folder_person_id, pass, folder_id, key)
select $1, p.id, p.pass, $3, $4 from folder_people p where p.pass = $2
on conflict (folder_person_id, folder_id) do update
   set id = excluded.id, key = excluded.key, pass = excluded.pass, made_at = now(), asked_at = null`;

/** Whose feed of folder $3: person $1's, or of the client whose personal link shows $2. One of both is null. */
const WHOSE = "folder_id = $3 and (person_id = $1 or pass = $2)";

export const FEED_OF = /* sql */ `
select ${isoOf("made_at")} as "madeAt", ${isoOf("asked_at")} as "askedAt" from feeds where ${WHOSE}`;

export const END_FEED = /* sql */ `delete from feeds where ${WHOSE}`;

/** The feed with key $1, and whose it is: with which workspaces, or by which open personal link, of which folder. */
export const FEED = /* sql */ `
with used as (
  update feeds set asked_at = now() where key = $1 and (asked_at is null or asked_at < now() - interval '5 minutes'))
select f.id, f.folder_id as "folderId", f.person_id as "personId", p.pass, p.folder_id as "opens",
       coalesce((select json_agg(json_build_object('workspaceId', m.workspace_id, 'role', m.role))
                   from members m where m.person_id = f.person_id), '[]') as memberships
  from feeds f left join folder_people p on p.id = f.folder_person_id and p.pass = f.pass
 where f.key = $1 and (f.person_id is not null or p.id is not null)`;
