/** What take $1 is of, and the poster that its recording has. */
export const POSTER_OF = /* sql */ `
select t.recording_id as "recordingId", t.source, t.state, r.poster_key as "posterKey"
  from takes t join recordings r on r.id = t.recording_id where t.id = $1`;

/** Recording $1 has poster $2 unless it has one. The row is of the recording, when it is still there. */
export const NAME_POSTER = `
update recordings set poster_key = coalesce(poster_key, $2) where id = $1 returning poster_key as key`;

/**
 * Of these parts (keys $1, and what their keys say: takes $2, names of tracks $3, numbers $4, null for init segments),
 * those that no row names and that none can name any more: their take is gone or complete.
 */
export const UNNAMED_PARTS = `
select o.key
  from unnest($1::text[], $2::uuid[], $3::text[], $4::int[]) as o(key, take_id, name, number)
  left join takes t on t.id = o.take_id
  left join tracks k on k.take_id = o.take_id and k.name = o.name
  left join segments s on s.track_id = k.id and s.number = o.number
 where (t.id is null or t.state = 'complete')
   and o.key is distinct from case when o.number is null then k.init_key else s.key end`;

/** Of these posters (keys $1, of recordings $2), those whose recording is gone or has another one. */
export const UNNAMED_POSTERS = `
select o.key
  from unnest($1::text[], $2::uuid[]) as o(key, recording_id) left join recordings r on r.id = o.recording_id
 where r.id is null or r.poster_key <> o.key`;

/** What is still to be done of queue $1 about $2, or is being done. */
export const UNFINISHED_JOBS = `
select id from jobs.job where name = $1 and singleton_key = $2 and state in ('created', 'retry', 'active')`;
