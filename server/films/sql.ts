/** What the words of a film are told by: its title, chapters, captions, and who has sent it. */
const WORDS = /* sql */ `md5(jsonb_build_array(r.title, r.chapters, r.captions, p.name)::text)`;

/**
 * The film of recording $1 that somebody waits for, and what it is to show: what is published now, when all of that is
 * here.
 */
export const FILM_TO_MAKE = /* sql */ `
select f.id, r.token, r.title, p.name as sender, ${WORDS} as words,
       v.id as "revisionId", v.number as revision
  from films f join recordings r on r.id = f.recording_id join people p on p.id = r.owner_id
  join lateral (select * from revisions where recording_id = r.id order by number desc limit 1) v on true
  left join takes t on t.id = v.grows
 where f.recording_id = $1 and f.state = 'waiting' and coalesce(t.state = 'complete', true)`;

/**
 * What revision $1 plays: a row for each track and stretch, in the order shown, with its segments as JSON.
 */
export const RUNS = /* sql */ `
select p.track as name, p.track_id as "trackId", p.moved_us as later, k.init, k.init_key as "initKey",
       json_agg(json_build_object('key', s.key, 'start', s.start_us, 'duration', s.duration_us)
                order by p.n, s.number) as segments
  from pieces p join tracks k on k.id = p.track_id
  join segments s on s.track_id = p.track_id and s.number between p.first and coalesce(p.last, 2147483647)
 where p.revision_id = $1 group by p.track, p.stretch, p.track_id, p.moved_us, k.id
 order by p.track, p.stretch, min(p.n)`;

/**
 * Asks for the film of recording $1, as film $2, unless one is on its way or there is one of what is published; with
 * $3, that one is made anew. A row where it is asked for.
 */
export const ASK_FILM = /* sql */ `
insert into films (recording_id, id, revision)
select $1, $2, v.number
  from (select number from revisions where recording_id = $1 order by number desc limit 1) v
on conflict (recording_id) do update
   set id = excluded.id, revision = excluded.revision, state = 'waiting', done = 0, wanted = 0, problem = null,
       key = null, asked_at = now()
 where films.state = 'failed' or (films.state = 'ready' and ($3 or films.revision <> excluded.revision
    or films.words is distinct from (
      select ${WORDS} from recordings r join people p on p.id = r.owner_id where r.id = $1)))
returning id`;

/** The recordings of which somebody waits for a film. */
export const FILMS_WAITED_FOR = /* sql */ `select recording_id as id from films where state = 'waiting'`;

/** Where the film of recording $1 stands. */
export const FILM = /* sql */ `
select f.state, f.done, f.wanted, f.problem, f.key, f.size, f.made_at as "madeAt",
       f.revision = (select max(number) from revisions where recording_id = $1)
         and f.words is not distinct from ${WORDS} as "isCurrent"
  from films f join recordings r on r.id = f.recording_id join people p on p.id = r.owner_id
 where f.recording_id = $1`;

/** Film $1 is so far: $2 of $3. */
export const NOTE_FILM_PROGRESS = /* sql */ `
update films set done = $2, wanted = $3 where id = $1 and state = 'waiting' returning id`;

/**
 * Film $1 of recording $2 is object $3, of $4 bytes, shows revision $5, and holds words $6: a row, unless nobody waits
 * for it any more or something else is published.
 */
export const KEEP_FILM = /* sql */ `
update films set state = 'ready', key = $3, size = $4, revision = $5, words = $6, made_at = now(), done = wanted
 where id = $1 and state = 'waiting'
   and $5 = (select max(number) from revisions where recording_id = $2) returning id`;

/** Film $1 cannot be made, for a reason ($2) in words for a person. */
export const FAIL_FILM = /* sql */ `
update films set state = 'failed', problem = $2 where id = $1 and state = 'waiting' returning id`;

/** What is waited for since yesterday does not come: it has failed, for reason $1, in words for a person. */
export const END_LONG_FILMS = /* sql */ `
update films set state = 'failed', problem = $1
 where state = 'waiting' and asked_at < now() - interval '1 day' returning id`;

/** Nobody waits for the film of recording $1 any more. */
export const CANCEL_FILM = /* sql */ `
delete from films where recording_id = $1 and state = 'waiting' returning id`;

/** Recording $1, where others may have it as a file or somebody waits for that, and all of it is here. */
export const WANTS_FILM = /* sql */ `
select r.id from recordings r where r.id = $1 and r.deleted_at is null
   and (r.downloads or exists (select from films where recording_id = r.id and state = 'waiting'))
   and not exists (select from takes where recording_id = r.id and not discarded and state <> 'complete')`;
