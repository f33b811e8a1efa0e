/** What recording $1 shows: its published revision, and whether all of that is here. */
export const POSTER_OF = /* sql */ `
select v.id as "revisionId", r.poster_key as "posterKey", r.poster_at as "posterAt", v.recipe,
       coalesce(t.state = 'complete', true) as whole
  from recordings r join revisions v on v.recording_id = r.id left join takes t on t.id = v.grows
 where r.id = $1 order by v.number desc limit 1`;

/** The segments of a kind ($2) that revision $1 shows, with where each is shown. */
const SEGMENTS_OF_KIND = /* sql */ `
select k.kind, k.init, k.init_key as "initKey", k.take_id as "takeId", t.source, s.key,
       s.start_us as "startUs", p.moved_us as "movedUs"
  from pieces p join tracks k on k.id = p.track_id join takes t on t.id = k.take_id
  join segments s on s.track_id = p.track_id and s.number between p.first and coalesce(p.last, 2147483647)
 where p.revision_id = $1 and p.track = $2`;

/** The first $3 segments of a kind ($2) that revision $1 shows, in order, with where each is shown. */
export const SHOWN_SEGMENTS = /* sql */ `${SEGMENTS_OF_KIND} order by p.stretch, p.n, s.number limit $3`;

/** The segment of a kind ($2) that revision $1 shows at the shown moment $3. */
export const SEGMENT_AT = /* sql */ `${SEGMENTS_OF_KIND}
   and s.start_us + p.moved_us <= $3 and s.start_us + s.duration_us + p.moved_us > $3
 order by p.stretch, p.n, s.number limit 1`;

/**
 * Recording $1 has poster $2 unless it has one, shows another revision than $3 by now, or another moment than $4 is
 * wanted. The row is of the recording, when it is still there and all of that is so.
 */
export const NAME_POSTER = /* sql */ `
update recordings set poster_key = coalesce(poster_key, $2)
 where id = $1 and not poster_own and poster_at is not distinct from $4
   and $3 = (select id from revisions where recording_id = $1 order by number desc limit 1)
returning poster_key as key`;

/**
 * Of these parts (keys $1, and what their keys say: takes $2, names of tracks $3, numbers $4, null for init segments),
 * those that no row names and that none can name any more: their take is gone or complete, and no other take that has
 * its segments as well names them.
 */
export const UNNAMED_PARTS = `
select o.key
  from unnest($1::text[], $2::uuid[], $3::text[], $4::int[]) as o(key, take_id, name, number)
  left join takes t on t.id = o.take_id
  left join tracks k on k.take_id = o.take_id and k.name = o.name
  left join segments s on s.track_id = k.id and s.number = o.number
 where (t.id is null or t.state = 'complete')
   and o.key is distinct from case when o.number is null then k.init_key else s.key end
   and not exists (
     select from takes b join tracks bk on bk.take_id = b.id and bk.name = o.name
       join segments bs on bs.track_id = bk.id and bs.number = o.number
      where b.media_of = o.take_id and bs.key = o.key)`;

/** Of these posters (keys $1, of recordings $2), those whose recording is gone or has another one. */
export const UNNAMED_POSTERS = `
select o.key
  from unnest($1::text[], $2::uuid[]) as o(key, recording_id) left join recordings r on r.id = o.recording_id
 where r.id is null or r.poster_key is distinct from o.key`;

/** Of these objects (keys $1, of recordings $2), those that are of no film that is made or waited for. */
export const UNNAMED_FILMS = `
select o.key
  from unnest($1::text[], $2::uuid[]) as o(key, recording_id) left join films f on f.recording_id = o.recording_id
 where f.id is null or f.state = 'failed' or (f.state = 'ready'
   and (f.key <> o.key or f.revision <> (select max(number) from revisions where recording_id = o.recording_id)))`;

/** What is still to be done of queue $1 about $2, or is being done. */
export const UNFINISHED_JOBS = `
select id from jobs.job where name = $1 and singleton_key = $2 and state in ('created', 'retry', 'active')`;

const askedLately = (table: "publications" | "films") => /* sql */ `
select count(*)::int as count from ${table} w join recordings r on r.id = w.recording_id
 where w.asked_at > now() - interval '1 hour' and w.recording_id <> $1
   and r.workspace_id = (select workspace_id from recordings where id = $1)`;

/** How much other work of a kind the workspace of recording $1 has asked for within an hour. */
export const ASKED_LATELY = { publications: askedLately("publications"), films: askedLately("films") };

/** Work by kind that waits for its turn or is being done, and since when the oldest of it could be done, in seconds. */
export const JOBS_WAITING = /* sql */ `
select name, case when state = 'active' then 'active' else 'waiting' end as state, count(*)::int as count,
       max(extract(epoch from now() - start_after))::float8 as oldest
  from jobs.job where state in ('created', 'retry', 'active') and start_after <= now() group by 1, 2`;

/** Letters that are not over, and those of the last day that came back. */
export const MAILS_WAITING = /* sql */ `
select case when failed is null then 'waiting' when text is null then 'returned' else 'failing' end as state,
       count(*)::int as count
  from mails where sent_at is null and (text is not null or made_at > now() - interval '1 day') group by 1`;
