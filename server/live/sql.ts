/** Takes the lock of recording $1 to the end of the transaction: changes of one recording stand in line. */
export const LOCK_RECORDING = "select pg_advisory_xact_lock(hashtextextended($1, 0))";

/** Events of recording $1: kinds $2, subjects $3, for the sender alone $4. */
export const ADD_EVENTS = /* sql */ `
insert into events (recording_id, kind, subject, sender_only)
select $1, e.kind, e.subject, e.sender_only
  from unnest($2::text[], $3::uuid[], $4::boolean[]) as e(kind, subject, sender_only) returning id`;

/** The first $3 events of recording $1 after number $2, in order. */
export const EVENTS_AFTER = /* sql */ `
select id, kind, subject, sender_only as "senderOnly" from events
 where recording_id = $1 and id > $2 order by id limit $3`;

/** Open pages $1 are still open. */
export const RENEW_PAGES = /* sql */ `
update open_pages set renewed_at = now() where id = any($1::uuid[]) returning id`;

/** Forgets pages that were not renewed for $1 seconds. */
export const FORGET_PAGES = /* sql */ `
delete from open_pages where renewed_at < now() - make_interval(secs => $1) returning id`;

/** How many others have a page of recording $1 open that was renewed in the last $2 seconds. */
export const WATCHING = /* sql */ `
select count(distinct p.viewer_id)::int as count from open_pages p join viewers v on v.id = p.viewer_id
 where p.recording_id = $1 and v.number >= 0 and p.renewed_at > now() - make_interval(secs => $2)`;

/** Of people $2, those whom something at recording $1 concerns: its sender, who watched it, and who is asked. */
export const CONCERNED = /* sql */ `
select r.owner_id as id from recordings r where r.id = $1 and r.owner_id = any($2::uuid[])
union select v.person_id from viewers v where v.recording_id = $1 and v.person_id = any($2::uuid[])
union select i.person_id from invites i where i.recording_id = $1 and i.person_id = any($2::uuid[])`;
