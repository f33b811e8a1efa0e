import { isoOf } from "../database/moments";

/** What a session knows of a workspace, w, and of what somebody is there, m. */
const MEMBERSHIP = `json_build_object('workspaceId', w.id, 'workspaceName', w.name, 'role', m.role,
         'sharesOutside', w.outside = 'everybody' or m.role = 'owner', 'unusedDays', w.unused_days)`;

/** Who session $1 is of, while it lasts, and the workspaces that they belong to. */
export const SIGNED_IN = /* sql */ `
with used as (
  update sessions set last_at = now() where id = $1 and last_at < now() - interval '5 minutes')
select p.id, p.name, p.email, s.workspace_id as chosen,
       (select digest from portraits where person_id = p.id) as portrait, json_agg(
         ${MEMBERSHIP}
         order by m.joined_at, w.id) as memberships
  from sessions s join people p on p.id = s.person_id
  join members m on m.person_id = p.id join workspaces w on w.id = m.workspace_id
 where s.id = $1 and s.expires_at > now() group by p.id, s.workspace_id`;

/** Where person $1 is signed in, the latest first. */
export const SESSIONS = /* sql */ `
select encode(id, 'hex') as id, agent, created_at as "createdAt", last_at as "lastAt", push is not null as tells
  from sessions where person_id = $1 and expires_at > now() order by last_at desc limit 100`;

/** Person $1 proves by a letter (kind $2, hash $3) what it says, for $5 minutes; $4 is the address that it is about. */
export const PUT_PROOF = /* sql */ `
insert into proofs as p (person_id, kind, hash, address, ends_at)
values ($1, $2, $3, $4, now() + make_interval(mins => $5))
on conflict (person_id, kind) where kind <> 'undo' do update
   set hash = excluded.hash, address = excluded.address, ends_at = excluded.ends_at
 where p.address is distinct from excluded.address
    or p.ends_at < now() + make_interval(mins => $5) - interval '2 minutes'
returning person_id`;

/** What a letter with hash $2 of kind $1 proves, while it does. */
export const PROOF = /* sql */ `
select r.person_id as "personId", r.address, p.name, p.email
  from proofs r join people p on p.id = r.person_id where r.kind = $1 and r.hash = $2 and r.ends_at > now()`;

/** The same, for the last time. */
export const USE_PROOF = /* sql */ `
delete from proofs r using people p
 where p.id = r.person_id and r.kind = $1 and r.hash = $2 and r.ends_at > now()
returning r.person_id as "personId", r.address, p.name, p.email`;

/** No letter to person $1 proves anything any more, but that they can have an address back that was changed. */
export const END_PROOFS = /* sql */ `
delete from proofs where person_id = $1 and kind <> 'undo' returning hash`;

/**
 * Person $1 has address $2 again. The letter that would put it back is of no use, and those after it went to whoever
 * had the account since: none of them may take it away again. Older ones stay.
 */
export const END_UNDO_SINCE = /* sql */ `
delete from proofs where person_id = $1 and kind = 'undo' and ends_at >= (
  select min(ends_at) from proofs where person_id = $1 and kind = 'undo' and address = $2) returning hash`;

/** Person $1 can have their address $3 back by a letter with hash $2, for $4 days. */
export const PUT_UNDO = /* sql */ `
insert into proofs (person_id, kind, hash, address, ends_at)
values ($1, 'undo', $2, $3, now() + make_interval(days => $4)) returning person_id`;

/**
 * A letter to $2 with hash $1 starts an account, for $3 minutes. Nothing where $4 went there within an hour, or $5
 * within a day.
 */
export const PUT_START = /* sql */ `
insert into starts (hash, email, ends_at)
select $1, $2, now() + make_interval(mins => $3)
 where (select count(*) from starts where email = $2 and made_at > now() - interval '1 hour') < $4::int
   and (select count(*) from starts where email = $2 and made_at > now() - interval '1 day') < $5::int
returning email`;

/** To which address the letter with hash $1 went, while it starts something. */
export const START = /* sql */ `select email from starts where hash = $1 and ends_at > now()`;

/** The same, for the last time. */
export const USE_START = /* sql */ `delete from starts where hash = $1 and ends_at > now() returning email`;

/** Letters that have started nothing. */
export const CLEAR_STARTS = /* sql */ `delete from starts where ends_at < now() - interval '1 day' returning email`;

/** What acts for person $1 besides themselves: what it is, its id, what it is called, and when it was made. */
export const ACCESSES = /* sql */ `
select 'program' as kind, id::text, name, ${isoOf("made_at")} as "madeAt" from programs where person_id = $1
union all
select 'hook', id::text, url, ${isoOf("made_at")} from hooks where person_id = $1
union all
select 'feed', f.id::text, o.name, ${isoOf("f.made_at")} from feeds f join folders o on o.id = f.folder_id
 where f.person_id = $1
union all
select 'passkey', id, name, ${isoOf("made_at")} from passkeys where person_id = $1
order by 1, 4 desc limit 200`;

/** Whatever acts for person $1 ends, but for those with ids $2. */
export const END_ACCESSES = [
  "delete from programs where person_id = $1 and id::text <> all($2::text[]) returning id",
  "delete from hooks where person_id = $1 and id::text <> all($2::text[]) returning id",
  "delete from feeds where person_id = $1 and id::text <> all($2::text[]) returning id",
  "delete from passkeys where person_id = $1 and id <> all($2::text[]) returning id",
];

/** The programs of person $1. */
export const PROGRAMS = /* sql */ `
select g.id, g.name, w.name as "workspaceName", g.scopes, ${isoOf("g.made_at")} as "madeAt",
       ${isoOf("g.last_at")} as "lastAt", ${isoOf("g.ends_at")} as "endsAt"
  from programs g join workspaces w on w.id = g.workspace_id
 where g.person_id = $1 order by g.made_at desc, g.id limit 100`;

/** The program with secret $1, while it may act, and for whom. */
export const PROGRAM = /* sql */ `
with used as (
  update programs set last_at = now()
   where secret = $1 and (last_at is null or last_at < now() - interval '5 minutes'))
select p.id, p.name, p.email, json_build_object('id', g.id, 'name', g.name, 'scopes', g.scopes) as program,
       json_build_array(${MEMBERSHIP}) as memberships
  from programs g join people p on p.id = g.person_id
  join members m on m.person_id = p.id and m.workspace_id = g.workspace_id join workspaces w on w.id = g.workspace_id
 where g.secret = $1 and (g.ends_at is null or g.ends_at > now())`;

/** Challenge with hash $1 for person $2, or for whoever signs in. Some of those that are over go. */
export const PUT_CHALLENGE = /* sql */ `
with over as (
  delete from challenges where hash in (
    select hash from challenges where ends_at < now() order by ends_at limit 100 for update skip locked))
insert into challenges (hash, person_id, ends_at) values ($1, $2, now() + interval '5 minutes')`;

/** The same, for the last time. */
export const USE_CHALLENGE = /* sql */ `
delete from challenges where hash = $1 and person_id is not distinct from $2 and ends_at > now() returning hash`;

/** The passkeys of person $1. */
export const PASSKEYS = /* sql */ `
select id, name, transports, ${isoOf("made_at")} as "madeAt", ${isoOf("used_at")} as "usedAt"
  from passkeys where person_id = $1 order by made_at desc, id limit 100`;

/** Passkey $1, and whose it is. */
export const PASSKEY = /* sql */ `
select k.public_key as "publicKey", k.counter::float8 as counter, k.transports, p.id as "personId", p.email
  from passkeys k join people p on p.id = k.person_id where k.id = $1`;

/** Passkey $1 was used for the $2nd time, as it says; nothing where it was used as often already. */
export const USE_PASSKEY = /* sql */ `
update passkeys set counter = $2, used_at = now()
 where id = $1 and (counter < $2 or counter = 0 and $2 = 0) returning id`;

/** The workspaces of person $1, what of each ends or passes on with their account, and to whom: $2 at the most. */
export const PARTINGS = /* sql */ `
select w.id, w.name, h.heirs,
       (select count(*)::int from recordings r
         where r.workspace_id = w.id and r.deleted_at is null
           and (r.owner_id = $1 or h.heirs = '[]'::jsonb)) as recordings
  from members m join workspaces w on w.id = m.workspace_id
 cross join lateral (
   select coalesce(jsonb_agg(jsonb_build_object('id', o.id, 'name', o.name)), '[]') as heirs from (
     select p.id, p.name from members o join people p on p.id = o.person_id
      where o.workspace_id = w.id and o.person_id <> $1
      order by o.role <> 'owner', o.joined_at, p.id limit $2) o) h
 where m.person_id = $1 order by m.joined_at, w.id`;

/** What person $1 watched and said at links is from now on guest $2's. */
export const LEAVE_VIEWERS = /* sql */ `
update viewers set person_id = null, guest_id = $2 where person_id = $1 returning id`;

/** The portrait of person $1: its name $2, and its bytes $3. */
export const PUT_PORTRAIT = /* sql */ `
insert into portraits (person_id, digest, bytes) values ($1, $2, $3)
on conflict (person_id) do update set digest = excluded.digest, bytes = excluded.bytes returning digest`;

/** The portrait that is called $1, of whomever. */
export const PORTRAIT = /* sql */ `select bytes from portraits where digest = $1 limit 1`;
