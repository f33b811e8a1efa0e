import { isoOf } from "../database/moments";

/** What the sender's page says of who may open recording $1, and with what. */
export const SHARED_AS = /* sql */ `
select r.audience, r.opens_at as "opensAt", r.ends_at as "endsAt", r.password_id is not null as "hasPassword",
       r.comments, r.downloads, r.asks_names as "asksNames", r.short, n.named, f.name as folder, f.id as "folderId", w.sites,
       json_build_object('who', r.consent_who, 'agreedAt', ${isoOf("r.agreed_at")}) as consent,
       ${isoOf("r.goes_at")} as "goesAt"
  from recordings r join workspaces w on w.id = r.workspace_id left join folders f on f.id = r.folder_id
  cross join lateral (
    select coalesce(json_agg(i.name order by i.created_at, i.id), '[]') as named
      from invites i where i.recording_id = r.id) n
 where r.id = $1`;

/** Recording $1 has link $2 from now on instead of the one that it has, and no short one. */
export const NEW_LINK = /* sql */ `
with old as (
  insert into old_links (token, recording_id) select token, id from recordings where id = $1 returning recording_id)
update recordings r set token = $2, short = null from old where r.id = old.recording_id returning r.id`;

/** Recording $1 gets short link $2 unless it has one. @returns the one that it has */
export const SHORTEN = /* sql */ `
update recordings set short = coalesce(short, $2) where id = $1 returning short`;

/** Who can open what is at link $1 and has address $2: they are named there, or belong to its folder. */
export const BY_ADDRESS_AT_LINK = /* sql */ `
select i.pass, 'invite' as by, r.id as to, i.name, i.id as "inviteId", r.id as "recordingId"
  from recordings r join invites i on i.recording_id = r.id and i.email = $2
 where r.token = $1 and r.deleted_at is null and r.audience <> 'owner'
union all
select p.pass, 'folder', p.folder_id, p.name, null, null
  from recordings r join folders f on f.id = r.folder_id
  join folder_people p on p.folder_id = any(f.path) and p.email = $2 and p.person_id is null
 where r.token = $1 and r.deleted_at is null and r.audience in ('folder', 'workspace', 'anyone') limit 1`;

/** Who has address $2 and comes to folder $1, or to one above it, by a personal link. */
export const BY_ADDRESS_AT_FOLDER = /* sql */ `
select p.pass, 'folder' as by, p.folder_id as to, p.name, null as "inviteId", null as "recordingId"
  from folders f join folder_people p on p.folder_id = any(f.path) and p.email = $2 and p.person_id is null
 where f.id = $1 limit 1`;

/** Pass $1 gets a code with hash $2 for $3 minutes, unless one was made within the last two minutes. */
export const PUT_CODE = /* sql */ `
insert into codes as c (pass, hash, ends_at) values ($1, $2, now() + make_interval(mins => $3))
on conflict (pass) do update set hash = excluded.hash, ends_at = excluded.ends_at, tries = 0
 where c.ends_at < now() + make_interval(mins => $3) - interval '2 minutes'
returning pass`;

/** One try at the code of pass $1, of at most $2. */
export const TRY_CODE = /* sql */ `
update codes set tries = tries + 1 where pass = $1 and tries < $2 and ends_at > now() returning hash`;

/** Whom the sender of recording $1 can mail of invites $2 (all where it is empty): who has an address. */
export const TO_MAIL = /* sql */ `
select i.id, i.name, i.email, i.key, w.zone from invites i left join notice_wishes w on w.person_id = i.person_id
 where i.recording_id = $1 and i.email is not null and (i.id = any($2::uuid[]) or cardinality($2::uuid[]) = 0)
 order by i.created_at, i.id`;

/** What a mail about recording $1 says, and the time zone of its sender. */
export const WORDS_OF = /* sql */ `
select r.title, r.duration_us as "durationUs", r.ends_at as "endsAt", a.question, to_char(a.due, 'YYYY-MM-DD') as due,
       a.closed as "askClosed", w.zone
  from recordings r left join asks a on a.recording_id = r.id left join notice_wishes w on w.person_id = r.owner_id
 where r.id = $1`;

/** Whose recording $1 is: who writes about it, and is answered. */
export const SENDER_OF = /* sql */ `
select p.id, p.name, p.email as address from recordings r join people p on p.id = r.owner_id where r.id = $1`;

/** Of recording $1 was sent to invites $2: whoever of them has an account is not told of it a second time. */
export const TOLD_BY_SENDING = /* sql */ `
update inbox set due_at = null
 where recording_id = $1 and kind = 'owed' and subject = any($2::uuid[]) returning subject`;

const OPEN = `r.deleted_at is null and r.audience <> 'owner'
   and (r.opens_at is null or r.opens_at <= now()) and (r.ends_at is null or r.ends_at > now())`;

/** Who was asked at recording $1, could answer, and has not. $2: only those who were asked half a day ago. */
export const OWING = /* sql */ `
select i.id, i.name, i.email, i.key, i.person_id as "personId",
       coalesce(i.reminded_at > now() - interval '20 hours', false) as "isReminded"
  from invites i join recordings r on r.id = i.recording_id join asks a on a.recording_id = r.id
 where r.id = $1 and not a.closed and ${OPEN} and (not $2::boolean or i.created_at < now() - interval '12 hours')
   and not exists (select from viewers v join answers n on n.viewer_id = v.id
                    where v.invite_id = i.id and n.ask_version = a.version)
 order by i.created_at, i.id`;

/** Of recording $1 invites $2 are reminded now, but those who were reminded meanwhile. */
export const REMINDED = /* sql */ `
update invites set reminded_at = now()
 where recording_id = $1 and id = any($2::uuid[])
   and (reminded_at is null or reminded_at <= now() - interval '20 hours') returning id`;

/** What invites $1 ask of people with an account is new for them again. */
export const PUT_OWED_ANEW = /* sql */ `
select put_in_inbox(person_id, id, 'owed', recording_id, now()) from invites
 where id = any($1::uuid[]) and person_id is not null`;

/** $1 recordings whose answers are needed tomorrow, or today, and of which people are to be reminded by themselves. */
export const ASKS_TO_REMIND = /* sql */ `
select a.recording_id as id from asks a join recordings r on r.id = a.recording_id
 where a.reminds and a.reminded_at is null and not a.closed and a.due_ends between now() and now() + interval '40 hours'
   and ${OPEN} order by a.due_ends limit $1`;

/** Nobody else reminds of what recording $1 asks. */
export const CLAIM_REMINDER = /* sql */ `
update asks set reminded_at = now() where recording_id = $1 and reminded_at is null returning recording_id`;

/** How many cameras there are in what recording $1 shows. */
export const CAMERAS_SHOWN = /* sql */ `
select count(distinct k.name)::int as cameras
  from revisions v join pieces p on p.revision_id = v.id join tracks k on k.id = p.track_id
 where v.recording_id = $1 and k.kind = 'camera'
   and v.number = (select max(number) from revisions where recording_id = $1)`;

/** In recording $1 others are seen or heard, $2; they agree ($3), since it was noted of the same people. */
export const NOTE_CONSENT = /* sql */ `
update recordings
   set consent_who = $2,
       agreed_at = case when not $3::boolean or $2 = '' then null
                        when consent_who = $2 then coalesce(agreed_at, now()) else now() end
 where id = $1 returning id`;
