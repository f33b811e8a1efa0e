/** Of recording $1: how many takes it has, the source of the first, and whether all of them are whole. */
export const TAKES_BEFORE = /* sql */ `
select r.token, r.title, count(t.id)::int as takes, bool_and(t.state = 'complete') as whole,
       (array_agg(t.source order by t.position))[1] as source
  from recordings r join takes t on t.recording_id = r.id
 where r.id = $1 and r.deleted_at is null group by r.id`;

/** The last revision of recording $1, with how long the take is that it shows as it grows. */
export const LAST_REVISION = /* sql */ `
select v.id, v.recording_id as "recordingId", v.number, v.recipe, v.grows, v.grows_from_us as "growsFromUs",
       v.closed_us as "closedUs", t.position, coalesce(t.duration_us, 0) as "takeUs"
  from revisions v left join takes t on t.id = v.grows
 where v.recording_id = $1 order by v.number desc limit 1`;

/**
 * Revision $1 gets the pieces of the first $3 kept stretches of revision $2. What was open ends with what is there;
 * what has nothing is left out.
 */
export const COPY_PIECES = /* sql */ `
insert into pieces (revision_id, track, n, track_id, first, last, moved_us)
select $1, p.track, p.n, p.track_id, p.first, coalesce(p.last, s.last), p.moved_us
  from pieces p join lateral (select max(number) as last from segments where track_id = p.track_id) s on true
 where p.revision_id = $2 and p.n < $3 and coalesce(p.last, s.last) >= p.first
returning track`;

/**
 * Closes take $1 when it has ended and all its segments are there; drops those beyond its end, and tells how long the
 * take is now, and what is shown. One row when it was closed now.
 */
export const COMPLETE_IF_WHOLE = /* sql */ `
with there as (
  select k.id, k.name, (t.expected ->> k.name)::int as expected, s.number, s.start_us + s.duration_us as end_us
    from takes t join tracks k on k.take_id = t.id left join segments s on s.track_id = k.id where t.id = $1
), counted as (
  select name, count(*) filter (where number <= expected) as n, max(end_us) filter (where number <= expected) as end_us
    from there group by name
), closed as (
  update takes t set state = 'complete', duration_us = coalesce((select max(end_us) from counted), 0)
   where t.id = $1 and t.state = 'uploading'
     and not exists (
       select 1 from jsonb_each_text(t.expected) e
         left join counted c on c.name = e.key where e.value::int > coalesce(c.n, 0))
   returning t.id, t.recording_id, t.duration_us
), dropped as (
  delete from segments s using there h, closed
   where s.track_id = h.id and s.number = h.number and h.number > coalesce(h.expected, 0) returning s.key
), shown as (
  select v.recording_id, v.closed_us + greatest(0, c.duration_us - v.grows_from_us) as duration_us
    from closed c join lateral (
      select * from revisions where recording_id = c.recording_id order by number desc limit 1) v on v.grows = c.id
), told as (
  update recordings r set duration_us = shown.duration_us from shown where r.id = shown.recording_id returning r.id
)
select id as "takeId", recording_id as "recordingId", (select coalesce(json_agg(key), '[]') from dropped) as beyond
  from closed`;

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
update takes set state = 'complete', paused = false, duration_us = coalesce((
    select max(s.start_us + s.duration_us) from segments s join tracks k on k.id = s.track_id where k.take_id = $1), 0)
 where id = $1 returning id, recording_id, duration_us`;

/** Closes take $1 as it is, and puts its recording among the deleted. */
export const CLOSE_AND_DELETE = /* sql */ `
with closed as (${CLOSE_TAKE})
update recordings r set deleted_at = coalesce(deleted_at, now()), duration_us = closed.duration_us
  from closed where r.id = closed.recording_id returning r.id`;
