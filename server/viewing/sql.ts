import { ASK_STANDING, VIEWER_NAMES } from "../answers/sql";

/** What viewer $2 of recording $1 played, as batch $3: from $4 to $5 at rates $6. Known batches change nothing. */
export const PUT_SPANS = /* sql */ `
insert into spans (recording_id, viewer_number, batch, n, from_us, to_us, rate)
select $1, $2, $3, s.n - 1, s.from_us, s.to_us, s.rate
  from unnest($4::bigint[], $5::bigint[], $6::real[]) with ordinality as s(from_us, to_us, rate, n)
on conflict do nothing returning n`;

/**
 * Spans of recording $1 since transaction $2, each as three big-endian numbers of 4 bytes (viewer, from and to in ms),
 * apart by whether everything that was written before their transaction is settled; and how many viewers there are.
 */
export const FRESH_SPANS = /* sql */ `
with now as (select pg_snapshot_xmin(pg_current_snapshot()) as horizon)
select (select coalesce(max(number), -1) + 1 from viewers where recording_id = $1)::int as viewers, now.horizon::text,
       string_agg(s.span, ''::bytea) filter (where s.made < now.horizon) as settled,
       string_agg(s.span, ''::bytea) filter (where s.made >= now.horizon) as fresh
  from now left join lateral (
    select made, int4send(viewer_number) || int4send((from_us / 1000)::int) || int4send((to_us / 1000)::int) as span
      from spans where recording_id = $1 and made >= $2::xid8 and viewer_number >= 0) s on true
 group by now.horizon`;

/** Keeps what the spans of recording $1 come to ($2 to $7), unless later ones were kept meanwhile. */
export const KEEP_FOLD = /* sql */ `
insert into folds as f (recording_id, folded, through, watched, finished, share, strip)
select r.id, $2, $3::xid8, $4, $5, $6, $7 from recordings r where r.id = $1
on conflict (recording_id) do update
   set folded = excluded.folded, through = excluded.through, watched = excluded.watched,
       finished = excluded.finished, share = excluded.share, strip = excluded.strip
 where f.through <= excluded.through returning recording_id`;

/** Where recording $1 is not clear, as those say who answered what is asked now. */
export const NOT_CLEAR = /* sql */ `
select (w.answer ->> 'at')::bigint as at from answers w join asks a on a.recording_id = w.recording_id
 where w.recording_id = $1 and w.ask_version = a.version and w.answer ->> 'kind' = 'not-clear'`;

/** The first $3 spans of viewers $2 of recording $1. */
export const SPANS_OF = /* sql */ `
select viewer_number as number, from_us as from, to_us as to from spans
 where recording_id = $1 and viewer_number = any($2::int[]) limit $3`;

/**
 * The newest $3 recordings of person $1 in workspace $2 with what came back, and how many people opened each first on
 * each of the days that begin at $4, in order.
 */
export const FIGURES_OF_ALL = /* sql */ `
with mine as (
  select id, token, title, created_at, duration_us from recordings
   where owner_id = $1 and workspace_id = $2 and deleted_at is null order by created_at desc limit $3)
select r.id, r.token, r.title, r.created_at as "createdAt", r.duration_us as "durationUs",
       coalesce(v.opened, 0) as opened, coalesce(f.watched, 0) as watched, coalesce(f.finished, 0) as finished,
       case when f.watched > 0 then f.share end as share, coalesce(c.comments, 0) as comments,
       coalesce(x.unclear, 0) + coalesce(a.not_clear, 0) as "notClear",
       coalesce(a.answered + case when a.asked = 0 then a.others else 0 end, 0) as answered,
       coalesce(a.asked, 0) as asked, coalesce(v.trend, '[]') as trend
  from mine r
  left join folds f on f.recording_id = r.id
  left join lateral (
    select sum(n)::int as opened, json_agg(n order by nth) filter (where nth > 0) as trend
      from (
        select d.nth, count(w.id)::int as n
          from generate_series(0, cardinality($4::timestamptz[])) as d(nth)
          left join viewers w on w.recording_id = r.id and w.number >= 0
           and width_bucket(w.first_opened_at, $4::timestamptz[]) = d.nth
         group by d.nth) days) v on true
  left join lateral (
    select count(*)::int as comments from comments where recording_id = r.id and removed_at is null) c on true
  left join lateral (
    select count(*)::int as unclear from reactions where recording_id = r.id and kind = 'not-clear') x on true
  left join ${ASK_STANDING} a on true
 order by r.created_at desc`;

/** The first $3 viewers of recording $1 after number $2, with their names where they may be named. */
export const VIEWERS_AFTER = /* sql */ `
select v.id, v.number, case when v.named then coalesce(m.name, g.name) end as name,
       v.first_opened_at as "firstOpenedAt", v.last_opened_at as "lastOpenedAt"
  from viewers v ${VIEWER_NAMES}
 where v.recording_id = $1 and v.number > $2 order by v.number limit $3`;
