/**
 * Revision $2 of recording $1, or its published one: that is its newest, with the take that it shows as that grows.
 */
export const PUBLISHED = /* sql */ `
select v.id, v.number, v.recipe, v.closed_us as "closedUs", v.grows as "takeId", s.source,
       coalesce(t.state, 'complete') as state, coalesce(t.paused, false) as paused, s.sources
  from revisions v
  left join takes t on t.id = v.grows
  join lateral (select (array_agg(source order by position))[1] as source, array_agg(distinct source) as sources
                  from takes where recording_id = $1 and not discarded) s on true
 where v.recording_id = $1 and v.number = coalesce($2, v.number) order by v.number desc limit 1`;

/** The tracks of revision $1 of which something is here: how each begins, and where what is here of it ends. */
export const TRACKS_HERE = /* sql */ `
select distinct on (p.track) p.track as name, k.kind, k.init,
       max(e.end_us + p.moved_us) over (partition by p.track) as "endUs"
  from pieces p
  join tracks k on k.id = p.track_id
  join lateral (
    select start_us + duration_us as end_us from segments
     where track_id = k.id and number <= coalesce(p.last, number) order by number desc limit 1) e on true
 where p.revision_id = $1 order by p.track, p.stretch, p.n`;

/** What each take of recording $1 has: its tracks, and where what is here of each ends; and whether more may come. */
export const TAKE_TRACKS = /* sql */ `
select t.position, k.name, e.end_us as "endUs", t.state <> 'complete' as grows
  from takes t join tracks k on k.take_id = t.id
  join lateral (
    select start_us + duration_us as end_us from segments where track_id = k.id order by number desc limit 1) e on true
 where t.recording_id = $1`;

/** The scenes and marks of the takes of recording $1, on their own time lines. */
export const SEEN = /* sql */ `
select e.id, e.kind, t.position, e.at_us as at, e.body
  from entries e join takes t on t.id = e.take_id
 where t.recording_id = $1 and e.kind in ('scene', 'mark') and e.body is not null order by t.position, e.at_us, e.id`;

/** The pieces of revision $1, with the beginning of each one's first segment; null while that is not here. */
export const PIECES = /* sql */ `
select p.track as name, p.stretch, p.track_id as "trackId", p.first, p.last, p.moved_us as "movedUs",
       k.kind, k.init, k.init_key as "initKey",
       f.start_us as "startUs", f.duration_us as "durationUs", f.frames
  from pieces p
  join tracks k on k.id = p.track_id
  left join segments f on f.track_id = p.track_id and f.number = p.first
 where p.revision_id = $1 order by p.track, p.stretch, p.n`;

/**
 * What is here of the pieces of track $2 of revision $1: a row for each piece, with its segments as JSON arrays. An
 * hour has 2,400 segments, and a row for each, or an array for our side to take apart, would cost most of the time.
 */
export const SEGMENTS_HERE = /* sql */ `
select p.first, p.last, p.moved_us as "movedUs", p.track_id as "trackId",
       coalesce(json_agg(s.number order by s.number) filter (where s.number is not null), '[]') as numbers,
       coalesce(json_agg(s.start_us order by s.number) filter (where s.number is not null), '[]') as starts,
       coalesce(json_agg(s.duration_us order by s.number) filter (where s.number is not null), '[]') as durations,
       max(s.start_us + s.duration_us) as "endUs"
  from pieces p
  left join segments s on s.track_id = p.track_id and s.number between p.first and coalesce(p.last, 2147483647)
 where p.revision_id = $1 and p.track = $2 group by p.stretch, p.n, p.first, p.last, p.moved_us, p.track_id
 order by p.stretch, p.n`;

/** The bit rates of tracks $1. */
export const RATES = /* sql */ `
select track_id as id, max(size * 8e6 / duration_us)::float8 as peak,
       (sum(size) * 8e6 / sum(duration_us))::float8 as average
  from segments where track_id = any($1::uuid[]) group by track_id`;

/** Is what revision $1 shows all there? */
export const IS_COMPLETE = /* sql */ `
select coalesce(t.state = 'complete', true) as complete
  from revisions v left join takes t on t.id = v.grows where v.id = $1`;

/** How loud the voice of each take of recording $1 is along its length, where that is known. */
export const VOICES = /* sql */ `
select t.position, coalesce(t.duration_us, 0) as "durationUs", l.take_id is not null as looked, l.voice
  from takes t left join looks l on l.take_id = t.id
 where t.recording_id = $1 and not t.discarded order by t.position`;
