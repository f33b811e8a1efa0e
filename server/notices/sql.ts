import { maySql } from "#core/access/access-sql";

/** People of whom something is due: $1 of them, whoever waits longest first. */
export const PEOPLE_DUE = /* sql */ `
select person_id as id from inbox where due_at <= now() group by person_id order by min(due_at) limit $1`;

/** What is due of person $1. Whoever else would tell them waits for this transaction. */
export const DUE = /* sql */ `
select b.subject, b.kind, extract(epoch from b.at)::float8 * 1000 as at,
       extract(epoch from r.opens_at)::float8 * 1000 as "opensAt"
  from inbox b join recordings r on r.id = b.recording_id
 where b.person_id = $1 and b.due_at <= now() order by b.at, b.subject for no key update of b`;

/** Of person $1 subjects $2 are looked at next at moments $3 (ms since 1970), or never. */
export const PUT_DUE = /* sql */ `
update inbox b set due_at = to_timestamp(n.due / 1000)
  from unnest($2::uuid[], $3::float8[]) as n(subject, due)
 where b.person_id = $1 and b.subject = n.subject returning b.subject`;

/** Everything that waits to be told to person $1 is looked at anew: they want it told in another way. */
export const LOOK_ANEW = /* sql */ `
update inbox set due_at = now() where person_id = $1 and due_at > now() returning subject`;

/** How person $1 is told: kinds and times $2, what is hidden $3, zone $4, quiet from $5 until $6. */
export const PUT_WISHES = /* sql */ `
insert into notice_wishes (person_id, mail, hidden, zone, quiet_from, quiet_until) values ($1, $2, $3, $4, $5, $6)
on conflict (person_id) do update
   set mail = excluded.mail, hidden = excluded.hidden, zone = excluded.zone, quiet_from = excluded.quiet_from,
       quiet_until = excluded.quiet_until returning person_id`;

/** People of folders without an account of whom something is due: $1 of them. */
export const CLIENTS_DUE = /* sql */ `
select folder_person_id as id from folder_news where due_at <= now()
 group by folder_person_id order by min(due_at) limit $1`;

/** What is new and due for somebody of a folder, $1, in their order. Whoever else would tell them waits. */
export const NEWS_DUE = /* sql */ `
select n.recording_id as subject, 'folder' as kind, extract(epoch from n.at)::float8 * 1000 as at,
       extract(epoch from r.opens_at)::float8 * 1000 as "opensAt"
  from folder_news n join recordings r on r.id = n.recording_id
 where n.folder_person_id = $1 and n.due_at <= now() order by n.at, n.recording_id for no key update of n`;

/** For somebody of a folder, $1, recordings $2 are looked at next at moments $3, or never. */
export const PUT_NEWS_DUE = /* sql */ `
update folder_news b set due_at = to_timestamp(n.due / 1000)
  from unnest($2::uuid[], $3::float8[]) as n(recording, due)
 where b.folder_person_id = $1 and b.recording_id = n.recording returning b.recording_id`;

/** What waits to be told to somebody of a folder, $1, is looked at anew. */
export const LOOK_AT_NEWS_ANEW = /* sql */ `
update folder_news set due_at = now() where folder_person_id = $1 and due_at > now() returning recording_id`;

/** Of recordings $1, in their order, those that whoever shows folder pass $2 may see. */
export const NEWS_OF = /* sql */ `
select r.token, r.title, o.name as who, coalesce(f.name, '') as folder
  from unnest($1::uuid[]) with ordinality as n(id, place)
  join recordings r on r.id = n.id join people o on o.id = r.owner_id left join folders f on f.id = r.folder_id
 where ${maySql("watch", { person: "null::uuid", workspaces: "'{}'::uuid[]", folderPasses: "array[$2::uuid]" })}
 order by n.place`;

/** Takes whose rest has not come for half an hour: their senders are told so, once. */
export const TELL_OF_SILENCE = /* sql */ `
insert into inbox (person_id, subject, kind, recording_id, at, due_at)
select r.owner_id, t.id, 'trouble', r.id, now(), now()
  from takes t join recordings r on r.id = t.recording_id
 where t.state <> 'complete' and t.heard_at between now() - interval '3 days' and now() - interval '30 minutes'
   and r.deleted_at is null
   and not exists (select from tracks k join segments s on s.track_id = k.id
                    where k.take_id = t.id and s.stored_at > now() - interval '30 minutes')
on conflict do nothing returning subject`;

/** By what browsers of person $1 are told, $2 at the most. */
export const BROWSERS = /* sql */ `
select push from sessions
 where person_id = $1 and push is not null and expires_at > now() order by last_at desc limit $2`;

/** Browsers with endpoints $1 are told nothing any more. */
export const FORGET_PUSH = /* sql */ `
update sessions set push = null
 where push is not null and push ->> 'endpoint' = any($1::text[]) returning person_id`;

/** The browser of session $1 (hexadecimal) is told by $2; null: not any more. */
export const PUT_PUSH = /* sql */ `
update sessions set push = $2::jsonb where id = decode($1, 'hex') returning person_id`;
