import { foldersOfSql, maySql, type SubjectSql } from "#core/access/access-sql";
import { ASK_STANDING } from "../answers/sql";
import { GROUP_ROWS, MOST_COUNTED, OWED_GROUPS, type LibraryQuery, type Sort } from "./library-query";

/** Of recording $1: how many takes it has, the source of the first, and whether all of them are whole. */
export const TAKES_BEFORE = /* sql */ `
select r.token, r.title, r.workspace_id as "workspaceId", count(t.id)::int as takes,
       bool_and(t.state = 'complete') as whole, (array_agg(t.source order by t.position))[1] as source
  from recordings r join takes t on t.recording_id = r.id
 where r.id = $1 and r.deleted_at is null group by r.id`;

/** Take $1 as its recorder was told of it, and whose it is. */
export const STARTED = /* sql */ `
select t.id as "takeId", t.recording_id as "recordingId", r.token, r.title, r.owner_id as "ownerId"
  from takes t join recordings r on r.id = t.recording_id where t.id = $1`;

const REVISION = /* sql */ `
select v.id, v.recording_id as "recordingId", v.number, v.recipe, v.grows, v.grows_from_us as "growsFromUs",
       v.closed_us as "closedUs", t.position, coalesce(t.duration_us, 0) as "takeUs"
  from revisions v left join takes t on t.id = v.grows
 where v.recording_id = $1`;

/** The last revision of recording $1, with how long the take is that it shows as it grows. */
export const LAST_REVISION = `${REVISION} order by v.number desc limit 1`;

/** Revision $2 of recording $1, in the same columns. */
export const REVISION_AT = `${REVISION} and v.number = $2`;

/**
 * Revision $1 gets the pieces of the first $3 kept stretches of revision $2. What was open ends with what is there;
 * what has nothing is left out.
 */
export const COPY_PIECES = /* sql */ `
insert into pieces (revision_id, track, stretch, n, track_id, first, last, moved_us)
select $1, p.track, p.stretch, p.n, p.track_id, p.first, coalesce(p.last, s.last), p.moved_us
  from pieces p join lateral (select max(number) as last from segments where track_id = p.track_id) s on true
 where p.revision_id = $2 and p.stretch < $3 and coalesce(p.last, s.last) >= p.first
returning track`;

/** The pieces of revision $1: names of tracks $2, stretches $3, n $4, tracks $5, first $6, last $7, moved $8. */
export const ADD_PIECES = /* sql */ `
insert into pieces (revision_id, track, stretch, n, track_id, first, last, moved_us)
select $1, p.* from unnest($2::text[], $3::int[], $4::int[], $5::uuid[], $6::int[], $7::int[], $8::bigint[]) p`;

/**
 * Closes take $1 when it has ended and all its segments are there; drops those beyond its end, and tells how long the
 * take is now, and what is shown. One row when it was closed now.
 */
export const COMPLETE_IF_WHOLE = /* sql */ `
with there as (
  select k.id, k.name, coalesce((t.expected ->> k.name)::int, 0) as expected
    from takes t join tracks k on k.take_id = t.id where t.id = $1
), counted as (
  select h.name, s.* from there h cross join lateral (
    select count(*) as n, sum(size) as bytes, max(start_us + duration_us) as end_us
      from segments where track_id = h.id and number between 1 and h.expected) s
), closed as (
  update takes t set state = 'complete', duration_us = coalesce((select max(end_us) from counted), 0),
         bytes = coalesce((select sum(bytes) from counted), 0)
   where t.id = $1 and t.state = 'uploading'
     and not exists (
       select 1 from jsonb_each_text(t.expected) e
         left join counted c on c.name = e.key where e.value::int > coalesce(c.n, 0))
   returning t.id, t.recording_id, t.duration_us
), dropped as (
  delete from segments s using there h, closed
   where s.track_id = h.id and s.number > h.expected returning s.key
), shown as (
  select v.recording_id, v.closed_us + greatest(0, c.duration_us - v.grows_from_us) as duration_us
    from closed c join lateral (
      select * from revisions where recording_id = c.recording_id order by number desc limit 1) v on v.grows = c.id
), told as (
  update recordings r set duration_us = shown.duration_us from shown where r.id = shown.recording_id returning r.id
)
select id as "takeId", recording_id as "recordingId", (select coalesce(json_agg(key), '[]') from dropped) as beyond
  from closed`;

/** Of takes $1, those that have stopped and wait for the rest of their segments. */
export const ENDING = /* sql */ `select id from takes where id = any($1::uuid[]) and state = 'uploading'`;

/** Where take $1 stands, and how many of the segments that were announced are not here. */
export const TAKE_STATE = /* sql */ `
select t.state, coalesce((
    select sum(greatest(0, e.value::int - (
      select count(*) from segments s join tracks k on k.id = s.track_id
       where k.take_id = t.id and k.name = e.key and s.number <= e.value::int)))::int
      from jsonb_each_text(t.expected) e), 0) as missing
  from takes t where t.id = $1`;

/** The numbers of the segments that are here of each track of take $1. */
export const STORED = /* sql */ `
select k.name, coalesce(array_agg(s.number order by s.number) filter (where s.number is not null), '{}') as numbers
  from tracks k left join segments s on s.track_id = k.id where k.take_id = $1 group by k.name`;

/** Erases the recording of take $1 when nothing of it has arrived. */
export const ERASE_EMPTY = /* sql */ `
delete from recordings r using takes t where t.id = $1 and r.id = t.recording_id
   and not exists (select 1 from tracks k join segments s on s.track_id = k.id where k.take_id = t.id) returning r.id`;

/** Closes take $1 as it is. */
export const CLOSE_TAKE = /* sql */ `
update takes set state = 'complete', paused = false, (duration_us, bytes) = (
    select coalesce(max(s.start_us + s.duration_us), 0), coalesce(sum(s.size), 0)
      from segments s join tracks k on k.id = s.track_id where k.take_id = $1)
 where id = $1 returning id, recording_id, duration_us`;

/** Closes take $1 as it is, and puts its recording among the deleted. */
export const CLOSE_AND_DELETE = /* sql */ `
with closed as (${CLOSE_TAKE})
update recordings r set deleted_at = coalesce(deleted_at, now()), duration_us = closed.duration_us
  from closed where r.id = closed.recording_id returning r.id`;

/** Take $1 is paused or not ($2), and its recorder is there. Nothing where it has stopped. */
export const NOTE_TAKE = /* sql */ `
update takes set paused = $2, heard_at = now() where id = $1 and state = 'recording' returning id`;

/** The recorder of take $1 has stopped, and says what it made ($2). */
export const STOP_TAKE = /* sql */ `
update takes set state = 'uploading', paused = false, expected = $2, heard_at = now()
 where id = $1 and state <> 'complete' returning id`;

/**
 * Open takes whose recorder has said nothing for $2 seconds: those of recording $1, or of all recordings where that is
 * null; with how many segments without a gap there are of each track.
 */
export const LEFT_TAKES = /* sql */ `
select t.id, coalesce((
    select jsonb_object_agg(k.name, (
      select count(*) from (
        select number, row_number() over (order by number) as place
          from segments where track_id = k.id and number > 0) s where number = place))
      from tracks k where k.take_id = t.id), '{}') as expected
  from takes t
 where t.state <> 'complete' and ($1::uuid is null or t.recording_id = $1)
   and t.heard_at < now() - make_interval(secs => $2)
   and not exists (select from tracks k join segments s on s.track_id = k.id
                    where k.take_id = t.id and s.stored_at > now() - make_interval(secs => $2))
 limit 200`;

/** Entries $2 of take $1, as JSON. Of one entry the newest version stays, in whichever order they come. */
export const PUT_ENTRIES = /* sql */ `
with open as (
  select id from takes where id = $1 and state <> 'complete' for update
), put as (
  insert into entries as e (take_id, id, version, kind, at_us, body)
    select open.id, n.id, n.version, n.kind, n.at, nullif(n.body, 'null'::jsonb)
      from open, jsonb_to_recordset($2::jsonb) as n(id uuid, version integer, kind text, at bigint, body jsonb)
  on conflict (take_id, id) do update
     set version = excluded.version, kind = excluded.kind, at_us = excluded.at_us, body = excluded.body
   where e.version < excluded.version
  returning xmax = 0 as added, kind
)
select (select count(*) from open)::int as open, was.total + new.total as total, was.marks + new.marks as marks
  from (select count(*)::int as total, count(*) filter (where kind = 'mark')::int as marks
          from entries where take_id = $1) was,
       (select count(*)::int as total, count(*) filter (where kind = 'mark')::int as marks from put where added) new`;

/** What the presenter wrote down while the takes of recording $1 were made, on their own time lines. */
export const NOTED = /* sql */ `
select t.position, e.at_us as at, e.body ->> 'what' as what, e.body ->> 'text' as title
  from takes t join entries e on e.take_id = t.id and e.kind = 'note'
 where t.recording_id = $1 and e.body is not null order by t.position, e.at_us`;

/** How far take `t` has come, in SQL: a take that still grows is as long as what is here of it. */
const TAKE_END = /* sql */ `case when t.state = 'complete' then coalesce(t.duration_us, 0) else coalesce((
  select max(e.end_us) from tracks k join lateral (
    select start_us + duration_us as end_us from segments where track_id = k.id order by number desc limit 1) e on true
   where k.take_id = t.id), 0) end`;

/** The recipe of revision $2 of recording $1, or of its published one, and how far the take is that it shows. */
export const SHOWN_LINE = /* sql */ `
select v.recipe, t.position, ${TAKE_END} as end
  from revisions v left join takes t on t.id = v.grows
 where v.recording_id = $1 and ($2::int is null or v.number = $2) order by v.number desc limit 1`;

/** Recording $1 has chapters $2 instead of $3, or has them already. Nothing where it has others by now. */
export const SET_CHAPTERS = /* sql */ `
update recordings set chapters = $2::jsonb where id = $1 and chapters in ($2::jsonb, $3::jsonb) returning id`;

/** Recording $1 is about $2, with tags $3, instead of $4 and $5, or is so already. Nothing where it is not. */
export const DESCRIBE = /* sql */ `
update recordings set description = $2::text, tags = $3::text[]
 where id = $1 and ((description, tags) = ($2::text, $3::text[]) or (description, tags) = ($4::text, $5::text[]))
 returning id`;

/** Takes that were thrown away before $1 and of which something is still here; of recording $2, or of all. */
export const DISCARDED_TAKES = /* sql */ `
select id, media_of as "mediaOf" from takes
 where discarded_at < $1 and bytes is distinct from 0 and ($2::uuid is null or recording_id = $2) limit 500`;

/** How many there are of recording $1, and when the first of them was thrown away. */
export const DISCARDED_OF = /* sql */ `
select count(*)::int as count, min(discarded_at) as since from takes
 where recording_id = $1 and discarded_at is not null and bytes is distinct from 0`;

/** Nothing of what was recorded in take $1 is here any more. */
export const EMPTY_TAKE = /* sql */ `
with gone as (delete from tracks where take_id = $1 returning id)
update takes set bytes = 0, media_of = null where id = $1 and discarded_at is not null returning id`;

/** Of takes $1 those that are gone, with every other take that has their stored segments as well. */
export const MEDIA_OF_NOBODY = /* sql */ `
select i.id from unnest($1::uuid[]) as i(id)
 where not exists (select from takes where id = i.id and (discarded_at is null or bytes is distinct from 0))
   and not exists (select from takes where media_of = i.id)`;

/** What the watch page says of recording $1. */
export const DETAILS = /* sql */ `
select r.id, r.title, r.title_version as "titleVersion", m.name as sender, r.created_at as "createdAt",
       r.poster_key is not null as "hasPoster", r.chapters, r.captions, r.description, r.tags
  from recordings r join people m on m.id = r.owner_id where r.id = $1`;

// The library of workspace $1 as person $2 has it; `r` is the recording. $3 is what titles have, or empty for all.

export const ROW_COLUMNS = `
  r.id, r.token, r.title, r.title_version as "titleVersion", r.audience, r.owner_id as "ownerId",
  r.duration_us as "durationUs", r.created_at as "createdAt", r.deleted_at as "deletedAt", r.spared,
  r.goes_at as "goesAt",
  r.poster_key is not null as "hasPoster", m.name as sender, t.source, t.state, t.paused, t.expected,
  coalesce(p.stored, 0)::int as stored,
  coalesce(v.closed_us, 0) + greatest(0, p.end_us - coalesce(v.grows_from_us, 0)) as "endUs",
  case when v.recipe -> 'kept' <> '[{"from": 0, "to": null}]' then v.recipe end as recipe,
  extract(epoch from now() - greatest(t.heard_at, p.last))::float8 as silent,
  a.kind as "askKind", a.closed as "askClosed", a.overdue, a.asked, a.answered, a.others, a.not_clear as "notClear",
  f.watched as views, f.strip, c.comments`;
export const ROW_TABLES = `
  join people m on m.id = r.owner_id
  join lateral (
    select * from takes where recording_id = r.id and media_of is null order by position desc limit 1) t on true
  left join lateral (select * from revisions where recording_id = r.id order by number desc limit 1) v on true
  left join lateral (
    select count(*) as stored, max(s.start_us + s.duration_us) as end_us, max(s.stored_at) as last
      from tracks k join segments s on s.track_id = k.id where k.take_id = t.id and t.state <> 'complete') p on true
  left join ${ASK_STANDING} a on true
  left join folds f on f.recording_id = r.id
  left join lateral (
    select coalesce(json_agg(at_us order by at_us), '[]') as comments
      from (select at_us from comments where recording_id = r.id and reply_to is null and removed_at is null
             order by at_us limit 60) first_ones) c on true`;

const FOUND = "($3 = '' or r.title ilike $3)";
const SUBJECT = { person: "$2", workspaces: "array[$1::uuid]" };
const listedFor = (subject: SubjectSql) => `r.workspace_id = $1 and ${maySql("list", subject)}`;
const OWN = `r.workspace_id = $1 and r.owner_id = $2 and ${maySql("list", SUBJECT, ["owner"])}`;

/** What each list has. The words of the indexes stand first, each by itself. */
function listed({ show, group }: Pick<LibraryQuery, "show" | "group">, subject: SubjectSql = SUBJECT): string {
  const all = listedFor(subject);
  if (show === "deleted") return `r.deleted_at is not null and ${all}`;
  if (group === "others") return `r.deleted_at is null and r.audience <> 'owner' and r.owner_id <> $2 and ${all}`;
  if (group) return `r.deleted_at is null and r.owed = '${group}' and ${OWN}`;
  return `r.deleted_at is null and ${all}`;
}

/** How each sort orders rows, and the value a page continues after. Every one has its index. */
const ORDER: Record<Sort, { by: string; direction: "asc" | "desc"; type: string }> = {
  newest: { by: "r.created_at", direction: "desc", type: "timestamptz" },
  oldest: { by: "r.created_at", direction: "asc", type: "timestamptz" },
  title: { by: "lower(r.title)", direction: "asc", type: "text" },
  longest: { by: "r.duration_us", direction: "desc", type: "bigint" },
};

/**
 * $4 rows of a list, each with its place in it.
 * @param query of which `after` says whether the list goes on after place $5 and recording $6
 */
export function libraryPage(query: LibraryQuery): string {
  const { by, direction, type } = ORDER[query.sort];
  return /* sql */ `
select ${ROW_COLUMNS}, (${by})::text as position
  from recordings r ${ROW_TABLES}
 where ${listed(query)} and ${FOUND}
   ${query.after ? `and (${by}, r.id) ${direction === "asc" ? ">" : "<"} ($5::${type}, $6::uuid)` : ""}
 order by ${by} ${direction}, r.id ${direction} limit $4`;
}

/**
 * The first rows of each group by what is owed, and how many it has, as far as is counted: a part for each, each with
 * its own index.
 */
export function libraryGroups(sort: Sort): string {
  const direction = sort === "oldest" ? "asc" : "desc";
  const order = `r.created_at ${direction}, r.id ${direction}`;
  const parts = OWED_GROUPS.map((owed, place) => {
    const where = `${listed({ show: "kept", group: owed }, { ...SUBJECT, folders: "theirs" })} and ${FOUND}`;
    return `
  select '${owed}' as owed, ${place} as part, first.id, first.place,
         (select count(*)::int
            from (select from recordings r where ${where} limit ${MOST_COUNTED + 1}) as counted) as total
    from (select r.id, row_number() over (order by ${order}) as place
            from recordings r where ${where} order by ${order} limit ${GROUP_ROWS}) first`;
  });
  return /* sql */ `
with theirs as materialized (${foldersOfSql(SUBJECT).join(" union all ")}),
     shown as (${parts.join(" union all ")})
select ${ROW_COLUMNS}, shown.owed, shown.total
  from shown join recordings r on r.id = shown.id ${ROW_TABLES}
 order by shown.part, shown.place`;
}
