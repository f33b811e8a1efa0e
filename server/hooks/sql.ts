import { isoOf } from "../database/moments";

/** The hooks of person $1, the newest first, each with what came of it last. */
export const HOOKS = /* sql */ `
select h.id, h.url, h.kinds, w.name as "workspaceName", ${isoOf("h.made_at")} as "madeAt",
       case when d.id is not null then json_build_object(
         'triedAt', ${isoOf("d.tried_at")}, 'status', d.status, 'said', d.said,
         'again', ${isoOf("d.due_at")}) end as last
  from hooks h join workspaces w on w.id = h.workspace_id
  left join lateral (
    select * from deliveries d
     where d.hook_id = h.id and d.tried_at is not null order by d.tried_at desc limit 1) d on true
 where h.person_id = $1 order by h.made_at desc, h.id limit 100`;

/**
 * Takes what is due, $1 at the most, $2 of one hook, for a while: nobody else sends it meanwhile, and what is sent by a
 * process that dies is sent again. Only where the person still belongs to the workspace.
 */
export const TAKE_DUE = /* sql */ `
with first as (
  select id, due_at, row_number() over (partition by hook_id order by due_at, id) as place
    from deliveries where due_at <= now()),
due as (
  select d.id from deliveries d join first f on f.id = d.id
   where f.place <= $2 and d.due_at <= now() order by f.due_at limit $1 for update of d skip locked),
taken as (
  update deliveries d set due_at = now() + interval '2 minutes', tries = d.tries + 1, tried_at = now()
    from due where due.id = d.id returning d.*)
select t.id, t.subject, t.tries, h.url, h.secret, h.person_id as "personId",
       exists (select from members m where m.person_id = h.person_id and m.workspace_id = h.workspace_id) as belongs
  from taken t join hooks h on h.id = t.hook_id`;

/** What came of delivery $1: status $2, words $3; due again at $4 (ms since 1970), or not any more. */
export const ANSWERED = /* sql */ `
update deliveries set status = $2, said = $3, due_at = to_timestamp($4::float8 / 1000) where id = $1 returning id`;

/** What is older than $1 ms, and is not due any more. */
export const CLEAR_DELIVERIES = /* sql */ `
delete from deliveries where due_at is null and at < now() - make_interval(secs => $1::float8 / 1000) returning id`;
