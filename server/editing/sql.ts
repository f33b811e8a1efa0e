/** The takes of recording $1 that were not thrown away, how long each is, and whether all of it is here. */
export const TAKES_TO_CUT = /* sql */ `
select position, coalesce(duration_us, 0) as "durationUs", state = 'complete' as whole,
       media_of is not null as brought
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

/** Of these edges (tracks $1, segments $2, from $3, to $4, silent $5) those that are made: their places from 1. */
export const EDGES_MADE = /* sql */ `
select w.place::int as place, e.number
  from unnest($1::uuid[], $2::int[], $3::bigint[], $4::bigint[], $5::bool[]) with ordinality
       as w(track_id, of_number, from_tick, to_tick, silent, place)
  join edges e using (track_id, of_number, from_tick, to_tick, silent)`;

/** A number for another edge. */
export const NEXT_EDGE = /* sql */ `select -nextval('edge_numbers')::int as number`;

/**
 * An edge: track $1, part $3 to $4 of segment $2, number $5, silent $6; and its row as a segment: start $7, duration
 * $8, frames $9, size $10, digest $11, key $12. Nothing where another process has made it meanwhile.
 */
export const ADD_EDGE = /* sql */ `
with added as (
  insert into edges (track_id, of_number, from_tick, to_tick, number, silent) values ($1, $2, $3, $4, $5, $6)
  on conflict do nothing returning track_id, number
)
insert into segments (track_id, number, start_us, duration_us, frames, size, digest, key)
select track_id, number, $7, $8, $9, $10, $11, $12 from added returning number`;

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
 * Recording $1 is to show $4 instead of revision $3, as publication $2, by itself ($5) or as somebody asks. Nothing
 * while another one waits that somebody has asked for, unless that has waited for longer than any work takes.
 */
export const ASK_PUBLICATION = /* sql */ `
insert into publications as p (recording_id, id, seen, recipe, by_itself, state) values ($1, $2, $3, $4, $5, 'waiting')
on conflict (recording_id) do update
   set id = excluded.id, seen = excluded.seen, recipe = excluded.recipe, by_itself = excluded.by_itself,
       state = 'waiting', done = 0, wanted = 0, problem = null, asked_at = now()
 where p.state <> 'waiting' or (p.by_itself and not excluded.by_itself) or p.asked_at < now() - interval '30 minutes'
returning id`;

/** What is to be published of recording $1, and where it stands. */
export const PUBLICATION = /* sql */ `
select id, seen, recipe, by_itself as "byItself", state, done, wanted, problem from publications
 where recording_id = $1`;

/** What waits for longer than it can take has failed, for reason $1, in words for a person. */
export const END_LONG_PUBLICATIONS = /* sql */ `
update publications set state = 'failed', problem = $1
 where state = 'waiting' and asked_at < now() - interval '12 hours' returning id`;

/** Recordings whose publication waits. */
export const PUBLICATIONS_WAITED_FOR = /* sql */ `
select recording_id as id from publications where state = 'waiting' order by asked_at`;

/** Takes whose voice without its noise is waited for. */
export const SUPPRESSIONS_WAITED_FOR = /* sql */ `select id from takes where suppressed = 'wanted'`;

/** Whole takes of the last day that were not looked over: older ones are when somebody asks. */
export const NOT_LOOKED_OVER = /* sql */ `
select t.id from takes t where t.state = 'complete' and not t.discarded and t.started_at > now() - interval '1 day'
   and not exists (select from looks where take_id = t.id)`;

/** So many edges ($2) of so many ($3) that recording $1 needs are made. */
export const NOTE_PROGRESS = /* sql */ `update publications set done = $2, wanted = $3 where recording_id = $1`;

/** Publication $2 of recording $1 has come out so: state $3, problem $4. Done twice at once, what came first counts. */
export const END_PUBLICATION = /* sql */ `
update publications set state = $3, problem = $4 where recording_id = $1 and id = $2 and state = 'waiting'
returning id`;

/**
 * Is everything of recording $1 that was recorded, or made of that, known, and is it $2? No row where nothing of it is.
 */
export const KNOWS_RECORDED = /* sql */ `
select v.recipe = $2::jsonb and not exists (
         select from takes t join tracks k on k.take_id = t.id
          where t.recording_id = $1 and not t.discarded and t.suppressed = 'made' and k.name = 'microphone-suppressed'
            and not exists (select from pieces p where p.revision_id = v.id and p.track_id = k.id)) as same
  from revisions v where v.recording_id = $1 and v.number = 0`;

/** The draft of recording $1. */
export const DRAFT = /* sql */ `select version, seen, history from drafts where recording_id = $1`;

/**
 * The draft of recording $1, version $2 by now, becomes history $4 over revision $3, saved by window $5 as its $6th.
 * Nothing where it has another version, unless this window has saved that before: then it only did not hear so. 0 is
 * the version of one which is not there yet.
 */
export const SAVE_DRAFT = /* sql */ `
with old as (update drafts set version = version + 1, seen = $3, history = $4, saved_by = $5, saved_nth = $6,
                                  saved_at = now()
              where recording_id = $1 and (version = $2 or (saved_by = $5::uuid and saved_nth < $6))
              returning version),
     new as (insert into drafts (recording_id, version, seen, history, saved_by, saved_nth)
             select $1, 1, $3, $4, $5, $6 where $2 = 0 on conflict do nothing returning version)
select version from old union all select version from new`;

/** The draft of recording $1 is thrown away, unless it has another version than $2. */
export const DROP_DRAFT = /* sql */ `delete from drafts where recording_id = $1 and version = $2 returning version`;

/** What is known of the sounds and pictures of the takes of recording $1. */
export const LOOKS = /* sql */ `
select t.id as "takeId", t.position, l.take_id is not null as made, l.pictures, l.measured, t.suppressed,
       coalesce(l.changes, '[]') as changes,
       l.voice is not null as "hasVoice", l.sound is not null as "hasSound"
  from takes t left join looks l on l.take_id = t.id
 where t.recording_id = $1 and not t.discarded order by t.position`;

/** One of them, of the take at position $2. */
export const lookOf = (what: "voice" | "sound" | "strip") => /* sql */ `
select l.${what} as bytes from takes t join looks l on l.take_id = t.id where t.recording_id = $1 and t.position = $2`;

/**
 * Take $1: levels of its voice $2 and of its surface's sound $3, its pictures $4 as JSON and $5 as JPEG, what was
 * measured of both sounds $6, where its pictures change $7.
 */
export const SAVE_LOOKS = /* sql */ `
insert into looks (take_id, voice, sound, pictures, strip, measured, changes)
select id, $2, $3, $4, $5, $6, $7::jsonb from takes where id = $1 on conflict do nothing`;

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

/**
 * The noise is to be taken out of the voices of the takes at positions $2 of recording $1. Those that have a voice, and
 * where each stands.
 */
export const WANT_SUPPRESSED = /* sql */ `
with voiced as (
  select t.id, t.suppressed from takes t
   where t.recording_id = $1 and t.position = any($2::int[]) and t.state = 'complete'
     and exists (select from tracks k join segments s on s.track_id = k.id
                  where k.take_id = t.id and k.name = 'microphone')
), asked as (
  update takes t set suppressed = 'wanted' from voiced v where t.id = v.id and t.suppressed is null
)
select id, coalesce(suppressed, 'wanted') as suppressed from voiced`;

/** Is the voice of take $1 wanted without its noise, and not made? */
export const TO_SUPPRESS = /* sql */ `select id from takes where id = $1 and suppressed = 'wanted'`;

/** Taking the noise out of the voice of take $1 has ended so: $2. */
export const END_SUPPRESSION = /* sql */ `
update takes set suppressed = $2 where id = $1 and suppressed = 'wanted'`;

/**
 * Take $1 has track $2 called $3, which begins with what is stored as $4 (digest $5, init $6) and of which $7 was
 * measured; its segments, a column for each: numbers $8, starts $9, durations $10, frames $11, sizes $12, digests $13,
 * keys $14. Nothing where it has it already.
 */
export const KEEP_SUPPRESSED = /* sql */ `
with take as (
  update takes set suppressed = 'made' where id = $1 and suppressed = 'wanted' returning id
), track as (
  insert into tracks (id, take_id, name, kind, init_key, init_digest, init)
  select $2, take.id, $3, 'microphone', $4, $5, $6::jsonb from take returning id
), look as (
  update looks l set measured = l.measured || $7::jsonb from take where l.take_id = take.id
)
insert into segments (track_id, number, start_us, duration_us, frames, size, digest, key)
select track.id, s.* from track, unnest($8::int[], $9::bigint[], $10::bigint[], $11::int[], $12::int[], $13::bytea[],
                                        $14::text[]) s`;

/** Recordings of person $2 in workspace $1 that could be brought into recording $3: those that have $4, the newest. */
export const TO_BRING = /* sql */ `
select r.id, r.token, r.title, r.duration_us as "durationUs", r.created_at as "createdAt",
       r.poster_key is not null as "hasPoster", t.source
  from recordings r
  join lateral (select source from takes where recording_id = r.id order by position limit 1) t on true
 where r.deleted_at is null and r.workspace_id = $1 and r.owner_id = $2 and r.id <> $3 and r.duration_us > 0
   and ($4 = '' or r.title ilike $4)
   and not exists (select from takes where recording_id = r.id and state <> 'complete')
 order by r.created_at desc, r.id desc limit 30`;

/** The takes at positions $2 of recording $1, and how each of their tracks begins. */
export const TAKES_TO_BRING = /* sql */ `
select t.id, t.position, coalesce(json_agg(json_build_object('id', k.id, 'name', k.name, 'initKey', k.init_key))
         filter (where k.id is not null), '[]') as tracks
  from takes t left join tracks k on k.take_id = t.id
 where t.recording_id = $1 and t.position = any($2::int[]) group by t.id order by t.position`;

/** Recording $1 of workspace $2 stays until the transaction ends. No row where it is gone. */
export const HOLD_RECORDING = /* sql */ `
select id from recordings where id = $1 and workspace_id = $2 and deleted_at is null for key share`;

/**
 * Take $1 becomes take $2 of recording $3 as well, at position $4, with its tracks $5 as tracks $6, which begin with
 * what is stored as $7. Its segments are the same objects.
 */
export const BRING_TAKE = /* sql */ `
with take as (
  insert into takes (id, recording_id, position, source, state, duration_us, bytes, expected, started_at, heard_at,
                     media_of, suppressed)
  select $2, $3, $4, source, state, duration_us, bytes, expected, started_at, heard_at, coalesce(media_of, id),
         nullif(suppressed, 'wanted')
    from takes where id = $1 and state = 'complete' returning id
), ids as (
  select * from unnest($5::uuid[], $6::uuid[], $7::text[]) as i(old, id, init_key)
), track as (
  insert into tracks (id, take_id, name, kind, init_key, init_digest, init)
  select i.id, take.id, k.name, k.kind, i.init_key, k.init_digest, k.init from take, ids i join tracks k on k.id = i.old
), segment as (
  insert into segments (track_id, number, start_us, duration_us, frames, size, digest, key, stored_at)
  select i.id, s.number, s.start_us, s.duration_us, s.frames, s.size, s.digest, s.key, s.stored_at
    from take, ids i join segments s on s.track_id = i.old and s.number > 0
), entry as (
  insert into entries (take_id, id, version, kind, at_us, body)
  select take.id, gen_random_uuid(), e.version, e.kind, e.at_us, e.body from take, entries e where e.take_id = $1
), look as (
  insert into looks (take_id, voice, sound, measured, pictures, strip, changes)
  select take.id, l.voice, l.sound, l.measured, l.pictures, l.strip, l.changes from take, looks l where l.take_id = $1
)
select id from take`;

/** The newest $2 revisions of recording $1, and how long each is. Not what they show: of a hundred that is much. */
export const REVISIONS = /* sql */ `
select v.number, v.published_at as "publishedAt",
       v.closed_us + greatest(0, coalesce(t.duration_us, 0) - v.grows_from_us) as length
  from revisions v left join takes t on t.id = v.grows
 where v.recording_id = $1 and v.number > 0 order by v.number desc limit $2`;

/** Revision $2 of recording $1, with how long the take is that it showed as it grew. */
export const REVISION = /* sql */ `
select v.recipe, t.position, coalesce(t.duration_us, 0) as "takeUs"
  from revisions v left join takes t on t.id = v.grows where v.recording_id = $1 and v.number = $2 and v.number > 0`;

/** Puts picture $1 of recording $2, if that has fewer than $6. */
export const PUT_PICTURE = /* sql */ `
insert into pictures (id, recording_id, width, height, bytes)
select $1, $2, $3, $4, $5 where (select count(*) from pictures where recording_id = $2) < $6 returning id`;

/** Picture $2 of recording $1. */
export const PICTURE = /* sql */ `
select bytes from pictures where id = $2 and recording_id = $1`;

/** The same, while it is on a mark of what is published. */
export const PICTURE_IS_SHOWN = /* sql */ `
select p.bytes from pictures p
  join lateral (select recipe from revisions where recording_id = $1 order by number desc limit 1) v on true
 where p.id = $2 and p.recording_id = $1
   and exists (select 1 from jsonb_each(v.recipe -> 'marks') m
                where m.value #>> '{mark,tool}' = 'picture' and m.value #>> '{mark,text}' = $2::text)`;

/** Which of pictures $2 recording $1 has not. */
export const PICTURES_MISSING = /* sql */ `
select w.id from unnest($2::uuid[]) w (id)
 where not exists (select 1 from pictures p where p.id = w.id and p.recording_id = $1) limit 1`;
