import { TOLD_DAYS_BEFORE } from "#core/retention/retention";

/** When a recording was of use last: recorded, opened to others, opened by anybody, published, restored. */
const LAST_USED = `greatest(r.created_at, r.used_at, r.opens_at,
       (select max(last_opened_at) from viewers where recording_id = r.id),
       (select max(published_at) from revisions where recording_id = r.id))`;

/** Workspace w wants recording r to go soon, by what is known of its use. */
const UNUSED_LONG = `r.deleted_at is null and not r.spared and w.unused_days is not null
   and r.used_at < now() - make_interval(days => w.unused_days - ${TOLD_DAYS_BEFORE})`;

/**
 * $2 recordings of workspace $1 that were not used for long, as far as is known, since the longest time first, after
 * moment $3 and recording $4.
 */
export const UNUSED = /* sql */ `
select r.id, r.used_at::text as "usedAt" from workspaces w join recordings r on r.workspace_id = w.id
 where w.id = $1 and ${UNUSED_LONG} and ($3::timestamptz is null or (r.used_at, r.id) > ($3::timestamptz, $4::uuid))
 order by r.used_at, r.id limit $2`;

/** Recordings $1, locked in one order for all who come. */
const IN_ORDER = `chosen as materialized (
  select id from recordings where id = any($1::uuid[]) order by id for no key update)`;

/** It is known of recordings $1 when they were used last; what was used since it was told to go does not go. */
export const PUT_USED = /* sql */ `
with ${IN_ORDER}
update recordings r set used_at = ${LAST_USED}, goes_at = null from chosen
 where r.id = chosen.id and ${LAST_USED} > r.used_at returning r.id`;

/** Of recordings $1, those are deleted whose time has come. */
export const LET_GO = /* sql */ `
with ${IN_ORDER}
update recordings r set deleted_at = now(), goes_at = null from chosen, workspaces w
 where r.id = chosen.id and w.id = r.workspace_id and ${UNUSED_LONG} and r.goes_at <= now() returning r.id`;

/** Senders of recordings $1 are told that they go: each is there for whole days (UTC) until then. */
export const TELL_UNUSED = /* sql */ `
with ${IN_ORDER}, told as (
  update recordings r
     set goes_at = date_trunc('day', now(), 'UTC') + interval '${TOLD_DAYS_BEFORE + 1} days' from chosen, workspaces w
   where r.id = chosen.id and w.id = r.workspace_id and ${UNUSED_LONG} and r.goes_at is null
  returning r.id, r.owner_id)
insert into inbox (person_id, subject, kind, recording_id, at, due_at)
select owner_id, id, 'unused', id, now(), now() from told
on conflict (person_id, subject) do update
   set kind = excluded.kind, at = excluded.at, read_at = null, due_at = excluded.due_at
returning subject`;

/** How many recordings of workspace $1 go next, up to $2. */
export const OF_GOING = /* sql */ `
select count(*)::int as count from (
  select from recordings where workspace_id = $1 and goes_at is not null and deleted_at is null limit $2) bounded`;

/** Nothing of workspace $1 goes: it is told anew what does. */
export const NOTHING_GOES = /* sql */ `
with chosen as materialized (
  select id from recordings
   where workspace_id = $1 and goes_at is not null and deleted_at is null order by id for no key update)
update recordings r set goes_at = null from chosen where r.id = chosen.id returning r.id`;
