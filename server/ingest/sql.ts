/**
 * A track of an open take: id $1, take $2, name $3, kind $4, init key $5, digest $6, init $7. The revision that shows
 * the take as it grows gets its piece with it. Nothing where the take is closed or has a track of this name.
 */
export const ADD_TRACK = /* sql */ `
with added as (
  insert into tracks (id, take_id, name, kind, init_key, init_digest, init)
    select $1, $2, $3, $4, $5, $6, $7 from takes where id = $2 and state <> 'complete'
  on conflict (take_id, name) do nothing returning id, take_id, name
), shown as (
  insert into pieces (revision_id, track, stretch, n, track_id, first, moved_us)
    select v.id, a.name, jsonb_array_length(v.recipe -> 'kept') - 1, 0, a.id, 1, v.closed_us - v.grows_from_us
      from added a join revisions v on v.grows = a.take_id
)
select id from added`;

/**
 * Segments of open takes, a column for each: takes $1, names of tracks $2, tracks $3, numbers $4, starts $5, durations
 * $6, frames $7, sizes $8, digests $9, keys $10. Those that are there, or lie beyond what was announced, are not taken.
 */
export const PUT_SEGMENTS = /* sql */ `
insert into segments (track_id, number, start_us, duration_us, frames, size, digest, key)
select s.track_id, s.number, s.start_us, s.duration_us, s.frames, s.size, s.digest, s.key
  from unnest($1::uuid[], $2::text[], $3::uuid[], $4::int[], $5::bigint[], $6::bigint[], $7::int[], $8::int[],
              $9::bytea[], $10::text[])
       as s(take_id, name, track_id, number, start_us, duration_us, frames, size, digest, key)
  join takes t on t.id = s.take_id
 where t.state <> 'complete' and (s.number <= (t.expected ->> s.name)::int or t.expected is null)
on conflict (track_id, number) do nothing returning key`;

/** Track $2 of take $1, and how long a take of its workspace may last. */
export const TRACK = /* sql */ `
select k.id, t.recording_id as "recordingId", k.init_digest as digest, k.init, w.longest_take_us as "longestUs"
  from tracks k join takes t on t.id = k.take_id join recordings r on r.id = t.recording_id
  join workspaces w on w.id = r.workspace_id
 where k.take_id = $1 and k.name = $2`;

/** Is the take of track $1 open? */
export const TAKE_IS_OPEN = /* sql */ `
select t.state <> 'complete' as open from takes t join tracks k on k.take_id = t.id where k.id = $1`;
