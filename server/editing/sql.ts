/** The takes of recording $1 that were not thrown away, how long each is, and whether all of it is here. */
export const TAKES_TO_CUT = /* sql */ `
select position, coalesce(duration_us, 0) as "durationUs", state = 'complete' as whole
  from takes where recording_id = $1 and not discarded order by position`;

/**
 * The tracks of the takes at positions $2 of recording $1, with their segments as JSON arrays. An hour has 2,400
 * segments, and a row for each would cost most of the time.
 */
export const TRACKS_TO_CUT = /* sql */ `
select k.id, k.take_id as "takeId", k.name, k.init, t.position,
       coalesce(json_agg(s.number order by s.number) filter (where s.number is not null), '[]') as numbers,
       coalesce(json_agg(s.start_us order by s.number) filter (where s.number is not null), '[]') as starts,
       coalesce(json_agg(s.duration_us order by s.number) filter (where s.number is not null), '[]') as durations,
       (array_agg(s.frames order by s.number))[1] as "firstFrames"
  from takes t join tracks k on k.take_id = t.id
  left join segments s on s.track_id = k.id and s.number > 0
 where t.recording_id = $1 and t.position = any($2::int[]) group by k.id, t.position order by k.name, t.position`;

/** Of these edges (tracks $1, segments $2, from $3, to $4) those that are made: their places in the list from 1. */
export const EDGES_MADE = /* sql */ `
select w.place::int as place, e.number
  from unnest($1::uuid[], $2::int[], $3::bigint[], $4::bigint[]) with ordinality
       as w(track_id, of_number, from_tick, to_tick, place)
  join edges e using (track_id, of_number, from_tick, to_tick)`;

/** A number for another edge. */
export const NEXT_EDGE = /* sql */ `select -nextval('edge_numbers')::int as number`;

/**
 * An edge: track $1, part $3 to $4 of segment $2, number $5; and its row as a segment: start $6, duration $7, frames
 * $8, size $9, digest $10, key $11. Nothing where another process has made it meanwhile.
 */
export const ADD_EDGE = /* sql */ `
with added as (
  insert into edges (track_id, of_number, from_tick, to_tick, number) values ($1, $2, $3, $4, $5)
  on conflict do nothing returning track_id, number
)
insert into segments (track_id, number, start_us, duration_us, frames, size, digest, key)
select track_id, number, $6, $7, $8, $9, $10, $11 from added returning number`;

/**
 * Forgets edges that were made a day before $1 or earlier and that no revision plays: what was only looked at. Nothing
 * of a recording that is just being published. Their objects are swept after that.
 */
export const CLEAR_EDGES = /* sql */ `
with unplayed as (
  select s.track_id, s.number
    from segments s join tracks k on k.id = s.track_id join takes t on t.id = k.take_id
   where s.number < 0 and s.stored_at < $1::timestamptz - interval '1 day'
     and not exists (select from pieces p where p.track_id = s.track_id and s.number between p.first and p.last)
     and not exists (select from publications w where w.recording_id = t.recording_id and w.state = 'waiting')),
gone as (delete from edges e using unplayed u where e.track_id = u.track_id and e.number = u.number)
delete from segments s using unplayed u where s.track_id = u.track_id and s.number = u.number returning s.number`;

/** Where the bytes of segment $2 of track $1 are, and what is needed to decode them. */
export const SEGMENT_TO_CUT = /* sql */ `
select s.key, s.start_us as "startUs", k.init_key as "initKey"
  from segments s join tracks k on k.id = s.track_id where s.track_id = $1 and s.number = $2`;

/** Track $1 gets another init segment ($3), unless it has another one than $2 by now. */
export const CHANGE_INIT = /* sql */ `
update tracks set init_key = $3 where id = $1 and init_key = $2 returning id`;

/**
 * Recording $1 is to show $4 instead of revision $3, as publication $2. Nothing while another one waits, unless that
 * has waited for longer than any work takes.
 */
export const ASK_PUBLICATION = /* sql */ `
insert into publications as p (recording_id, id, seen, recipe, state) values ($1, $2, $3, $4, 'waiting')
on conflict (recording_id) do update
   set id = excluded.id, seen = excluded.seen, recipe = excluded.recipe, state = 'waiting', done = 0, wanted = 0,
       problem = null, asked_at = now()
 where p.state <> 'waiting' or p.asked_at < now() - interval '30 minutes' returning id`;

/** What is to be published of recording $1, and where it stands. */
export const PUBLICATION = /* sql */ `
select id, seen, recipe, state, done, wanted, problem from publications where recording_id = $1`;

/** So many edges ($2) of so many ($3) that recording $1 needs are made. */
export const NOTE_PROGRESS = /* sql */ `update publications set done = $2, wanted = $3 where recording_id = $1`;

/** Publication $2 of recording $1 has come out so: state $3, problem $4. Done twice at once, what came first counts. */
export const END_PUBLICATION = /* sql */ `
update publications set state = $3, problem = $4 where recording_id = $1 and id = $2 and state = 'waiting'`;

/** Is everything of recording $1 that was recorded known, and is it $2? No row where it is not known at all. */
export const KNOWS_RECORDED = /* sql */ `
select recipe = $2::jsonb as same from revisions where recording_id = $1 and number = 0`;

/** The draft of recording $1. */
export const DRAFT = /* sql */ `select version, seen, history from drafts where recording_id = $1`;

/**
 * The draft of recording $1, version $2 by now, becomes history $4 over revision $3, saved by window $5. Nothing where
 * it has another version, unless this window has saved that: then it only did not hear so. 0 is the version of one
 * which is not there yet.
 */
export const SAVE_DRAFT = /* sql */ `
with old as (update drafts set version = version + 1, seen = $3, history = $4, saved_by = $5, saved_at = now()
              where recording_id = $1 and (version = $2 or saved_by = $5::uuid) returning version),
     new as (insert into drafts (recording_id, version, seen, history, saved_by)
             select $1, 1, $3, $4, $5 where $2 = 0 on conflict do nothing returning version)
select version from old union all select version from new`;

/** The draft of recording $1 is thrown away, unless it has another version than $2. */
export const DROP_DRAFT = /* sql */ `delete from drafts where recording_id = $1 and version = $2 returning version`;

/** What is known of the sounds and pictures of the takes of recording $1. */
export const LOOKS = /* sql */ `
select t.id as "takeId", t.position, l.take_id is not null as made, l.pictures, l.measured,
       l.voice is not null as "hasVoice", l.sound is not null as "hasSound"
  from takes t left join looks l on l.take_id = t.id
 where t.recording_id = $1 and not t.discarded order by t.position`;

/** One of them, of the take at position $2. */
export const lookOf = (what: "voice" | "sound" | "strip") => /* sql */ `
select l.${what} as bytes from takes t join looks l on l.take_id = t.id where t.recording_id = $1 and t.position = $2`;

/**
 * Take $1: levels of its voice $2 and of its surface's sound $3, its pictures $4 as JSON and $5 as JPEG, what was
 * measured of both sounds $6.
 */
export const SAVE_LOOKS = /* sql */ `
insert into looks (take_id, voice, sound, pictures, strip, measured)
select id, $2, $3, $4, $5, $6 from takes where id = $1 on conflict do nothing`;

/** Is take $1 whole, and not looked over? */
export const TO_LOOK_OVER = /* sql */ `
select t.id from takes t where t.id = $1 and t.state = 'complete' and not t.discarded
   and not exists (select from looks where take_id = t.id)`;

/** The segments of take $1 that were recorded, of each of its tracks. */
export const TAKE_SEGMENTS = /* sql */ `
select k.name, k.kind, k.init, k.init_key as "initKey",
       json_agg(json_build_object('key', s.key, 'startUs', s.start_us) order by s.number) as segments
  from tracks k join segments s on s.track_id = k.id
 where k.take_id = $1 and s.number > 0 group by k.id order by k.name`;

/** The segments of the voice of take $1 in which something of its stretch $2 to $3 is. */
export const VOICE_SEGMENTS = /* sql */ `
select s.key, s.start_us as "startUs", k.init_key as "initKey"
  from tracks k join segments s on s.track_id = k.id
 where k.take_id = $1 and k.name = 'microphone' and s.number > 0 and s.start_us < $3 and s.start_us + s.duration_us > $2
 order by s.number`;

/** What the presenter said of recording $1 while it was made, that may be a reason to leave something out. */
export const REASONS = /* sql */ `
select t.id as "takeId", t.position, coalesce(t.duration_us, 0) as "durationUs", e.at_us as at,
       e.body ->> 'what' as what, (e.body ->> 'since')::bigint as since
  from takes t join entries e on e.take_id = t.id and e.kind = 'note'
 where t.recording_id = $1 and t.state = 'complete' and e.body ->> 'what' in ('mistake', 'backed-up')
 order by t.position, e.at_us limit 500`;

/** The stretches of take $1 that its presenter backed up over, and the recording that it is of. */
export const BACKED_UP = /* sql */ `
select t.recording_id as "recordingId", t.position, (e.body ->> 'since')::bigint as since, e.at_us as at
  from takes t join entries e on e.take_id = t.id and e.kind = 'note'
 where t.id = $1 and e.body ->> 'what' = 'backed-up'`;
