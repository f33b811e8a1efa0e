/** The places of workspace $1, in their order. */
export const PLACES = /* sql */ `
select id, kind, name, address, account from places where workspace_id = $1 order by position, made_at, id`;

/** Place $2 of workspace $1 is added after the others, unless there are $8 already. */
export const ADD_PLACE = /* sql */ `
insert into places (id, workspace_id, kind, name, address, account, secret, position)
select $2, $1, $3, $4, $5, $6, $7, coalesce(max(position) + 1, 0) from places where workspace_id = $1
having count(*) < $8
returning id`;

/** Place $2 of workspace $1 is as this now, the last one where it is new. */
export const KEEP_PLACE = /* sql */ `
insert into places (id, workspace_id, kind, name, address, account, secret, position)
select $2, $1, $3, $4, $5, $6, $7, coalesce(max(position) + 1, 0) from places where workspace_id = $1
on conflict (id) do update set address = excluded.address, account = excluded.account, secret = excluded.secret`;

/** The places of workspace $1 stand in this order ($2, all of them). A row for each that has another place by that. */
export const ORDER_PLACES = /* sql */ `
update places p set position = o.position - 1
  from unnest($2::uuid[]) with ordinality as o(id, position)
 where p.id = o.id and p.workspace_id = $1 returning p.id`;

/** Where the film of recording $1 is, also at places that were given up since; and at which it could be. */
export const SENDINGS_OF = /* sql */ `
select p.id as "placeId", p.kind, coalesce(p.name, s.place_name) as name, s.id, s.state, s.done, s.size, s.link,
       s.problem, s.revision, s.seen_by as "seenBy"
  from (select p.* from recordings r join places p on p.workspace_id = r.workspace_id where r.id = $1) p
  full join (select * from sendings where recording_id = $1) s on s.place_id = p.id
 where p.id is not null or s.state = 'there' order by p.position, p.made_at, s.asked_at`;

/**
 * Recording $2 is to be at place $3, as sending $1, seen there by $4: at first, or once more. A row unless it is on its
 * way, or the place is of another workspace.
 */
export const ASK_SENDING = /* sql */ `
insert into sendings (id, recording_id, place_id, place_name, seen_by)
select $1, r.id, p.id, p.name, $4 from recordings r join places p on p.workspace_id = r.workspace_id
 where r.id = $2 and p.id = $3
on conflict (recording_id, place_id) do update
   set state = 'waiting', done = 0, problem = null, tries = 0, seen_by = excluded.seen_by, asked_at = now()
 where sendings.state in ('there', 'failed')
returning id`;

/** Place $1 is given up: what is on its way there, or away from there, is so as well. */
export const GIVE_UP_WAYS = /* sql */ `
update sendings set state = 'failed', problem = 'The place was given up.'
 where place_id = $1 and state not in ('there', 'failed') returning id`;

/** What there is to be done of a sending: \`sendings_under_way\` is the index of it. */
const TO_DO = `(state in ('waiting', 'sending', 'processing', 'removing')
               or (link is not null and told_version < about_version))`;

/** What is to be done of sending $1. */
export const SENDING_TO_DO = /* sql */ `
select s.id, s.recording_id as "recordingId", s.state, s.remote, s.resume, s.resume_key as "resumeKey", s.tries,
       s.about_version as "aboutVersion", s.told_version as "toldVersion", s.seen_by as "seenBy",
       p.kind, p.address, p.account, p.secret, r.title, r.description,
       (select max(number) from revisions where recording_id = r.id) as current
  from (select * from sendings where id = $1 and ${TO_DO}) s
  join recordings r on r.id = s.recording_id join places p on p.id = s.place_id`;

/** Sending $1 is so far: $2 of $3 bytes, of revision $4. A row unless nobody wants it any more. */
export const NOTE_SENDING = /* sql */ `
update sendings set state = 'sending', done = $2, size = $3, coming = $4
 where id = $1 and state in ('waiting', 'sending') returning id`;

/** Sending $1 can go on at $2, where file $3 is brought. */
export const NOTE_RESUME = /* sql */ `
update sendings set resume = $2, resume_key = $3 where id = $1 returning id`;

/** Sending $1 came to state $2: called $3 there, watched at $4, wrong with it is $5; it was told version $6. */
export const END_SENDING = /* sql */ `
update sendings set state = $2, remote = $3, link = $4, problem = $5,
       told_version = coalesce($6, told_version),
       revision = case when $2 = 'there' then coming else revision end, resume = null, resume_key = null, tries = 0
 where id = $1 and state in ('waiting', 'sending', 'processing')
returning state = 'processing' or (link is not null and told_version < about_version) as more`;

/**
 * Sending $1 did not come there, or not away from there, because of $2; what was there before still is, and what was
 * begun can go on.
 */
export const FAIL_SENDING = /* sql */ `
update sendings set state = case when state = 'removing' and revision is not null then 'there' else 'failed' end,
       problem = $2
 where id = $1 and state not in ('there', 'failed') returning id`;

/** Sending $1 was tried once more, in vain. */
export const TRY_AGAIN = /* sql */ `update sendings set tries = tries + 1 where id = $1 returning id`;

/**
 * It is not wanted at the place any more: what is there is to be taken away. What is on its way is given up; what was
 * there before then stays.
 */
export const GIVE_UP_SENDING = /* sql */ `
update sendings
   set state = case when state in ('waiting', 'sending') and revision is not null then 'there' else 'removing' end,
       problem = null, tries = 0
 where id = $1 and recording_id = $2 returning id`;

export const DROP_SENDING = /* sql */ `delete from sendings where id = $1 returning id`;

/** What is said of recording $1 has changed: what is at places is to be told. */
export const TELL_ABOUT = /* sql */ `
update sendings set about_version = about_version + 1, tries = 0
 where recording_id = $1 and place_id is not null returning id, state`;

/** Sending $1 of recording $2 is to be seen by $3. */
export const SEEN_FROM_NOW = /* sql */ `
update sendings set seen_by = $3, about_version = about_version + 1, tries = 0
 where id = $1 and recording_id = $2 and state <> 'removing' and (state <> 'failed' or link is not null)
returning id, state`;

/** The place of sending $1 was told version $2 of what is said of it. What did not come there still did not. */
export const TOLD = /* sql */ `
update sendings set told_version = $2, problem = case when state = 'failed' then problem end where id = $1
returning told_version < about_version as more`;

/** The place of sending $1 was not told, because of $2. */
export const NOT_TOLD = /* sql */ `
update sendings set problem = $2 where id = $1 and state in ('there', 'failed') returning id`;

/** What is under way, so that it goes on when its process has died. */
export const SENDINGS_UNDER_WAY = /* sql */ `
select id from sendings where ${TO_DO} and place_id is not null`;
