/** The places of workspace $1, in their order. */
export const PLACES = /* sql */ `
select id, kind, name, address, account from places where workspace_id = $1 order by position, made_at, id`;

/** Place $2 of workspace $1 is added after the others, unless there are $8 already. */
export const ADD_PLACE = /* sql */ `
insert into places (id, workspace_id, kind, name, address, account, secret, position)
select $2, $1, $3, $4, $5, $6, $7, coalesce(max(position) + 1, 0) from places where workspace_id = $1
having count(*) < $8
returning id`;

/** The places of workspace $1 stand in this order ($2, all of them). A row for each that has another place by that. */
export const ORDER_PLACES = /* sql */ `
update places p set position = o.position - 1
  from unnest($2::uuid[]) with ordinality as o(id, position)
 where p.id = o.id and p.workspace_id = $1 returning p.id`;

/** Where the film of recording $1 is, also at places that were given up since; and at which it could be. */
export const SENDINGS_OF = /* sql */ `
select p.id as "placeId", p.kind, coalesce(p.name, s.place_name) as name, s.id, s.state, s.done, s.size, s.link,
       s.problem, s.revision
  from (select p.* from recordings r join places p on p.workspace_id = r.workspace_id where r.id = $1) p
  full join (select * from sendings where recording_id = $1) s on s.place_id = p.id
 where p.id is not null or s.state = 'there' order by p.position, p.made_at, s.asked_at`;

/**
 * Recording $2 is to be at place $3, as sending $1: at first, or once more. A row unless it is on its way, or the place
 * is of another workspace.
 */
export const ASK_SENDING = /* sql */ `
insert into sendings (id, recording_id, place_id, place_name)
select $1, r.id, p.id, p.name from recordings r join places p on p.workspace_id = r.workspace_id
 where r.id = $2 and p.id = $3
on conflict (recording_id, place_id) do update
   set state = 'waiting', done = 0, problem = null, tries = 0, asked_at = now()
 where sendings.state in ('there', 'failed')
returning id`;

/** Place $1 is given up: what is on its way there, or away from there, is so as well. */
export const GIVE_UP_WAYS = /* sql */ `
update sendings set state = 'failed', problem = 'The place was given up.'
 where place_id = $1 and state not in ('there', 'failed') returning id`;

/** What is to be done of sending $1. */
export const SENDING_TO_DO = /* sql */ `
select s.id, s.recording_id as "recordingId", s.state, s.remote, s.resume, s.tries, s.revision,
       p.kind, p.address, p.account, p.secret, r.title, r.description, r.audience,
       (select max(number) from revisions where recording_id = r.id) as current
  from sendings s join recordings r on r.id = s.recording_id join places p on p.id = s.place_id
 where s.id = $1 and s.state in ('waiting', 'sending', 'processing', 'removing')`;

/** Sending $1 is so far: state $2, $3 of $4 bytes, goes on at $5. A row unless nobody wants it any more. */
export const NOTE_SENDING = /* sql */ `
update sendings set state = $2, done = $3, size = $4, resume = coalesce($5, resume)
 where id = $1 and state in ('waiting', 'sending') returning id`;

/** Sending $1 came to state $2: called $3 there, watched at $4, of revision $5; or it did not, because of $6. */
export const END_SENDING = /* sql */ `
update sendings set state = $2, remote = coalesce($3, remote), link = $4, revision = coalesce($5, revision),
       problem = $6, resume = case when $2 in ('there', 'processing') then null else resume end, tries = tries + 1
 where id = $1 and state not in ('there', 'failed') returning id`;

/** Sending $1 was tried once more, in vain. */
export const TRY_AGAIN = /* sql */ `update sendings set tries = tries + 1 where id = $1 returning id`;

/** It is not wanted at the place any more: what is there is to be taken away; what is not there yet is given up. */
export const GIVE_UP_SENDING = /* sql */ `
update sendings set state = 'removing', problem = null, tries = 0 where id = $1 and recording_id = $2 returning id`;

export const DROP_SENDING = /* sql */ `delete from sendings where id = $1 returning id`;

/** What is under way, so that it goes on when its process has died. */
export const SENDINGS_UNDER_WAY = /* sql */ `
select id from sendings where state in ('waiting', 'sending', 'processing', 'removing') and place_id is not null`;
