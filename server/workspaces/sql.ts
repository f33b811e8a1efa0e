/**
 * The people of workspace $1, in the order of their names. When they were last here is told by the sessions that look
 * at this workspace, or at none and so at their first.
 */
export const PEOPLE = `
select p.id, p.name, p.email, f.digest as portrait, m.role, m.joined_at as "joinedAt", count(r.id)::int as recordings,
       (select max(s.last_at) from sessions s
         where s.person_id = p.id and m.workspace_id = coalesce(s.workspace_id, (
           select f.workspace_id from members f where f.person_id = p.id order by f.joined_at, f.workspace_id limit 1))
       ) as "lastAt"
  from members m join people p on p.id = m.person_id left join portraits f on f.person_id = p.id
  left join recordings r on r.owner_id = p.id and r.workspace_id = m.workspace_id and r.deleted_at is null
 where m.workspace_id = $1 group by p.id, f.digest, m.workspace_id, m.role, m.joined_at order by lower(p.name), p.id`;

/** The open join links of workspace $1, the newest first. */
export const LINKS = `
select l.id, l.token, l.role, l.address, p.name as "madeBy", l.ends_at as "endsAt"
  from join_links l left join people p on p.id = l.made_by
 where l.workspace_id = $1 and l.closed_at is null and l.ends_at > now() order by l.made_at desc`;

/** Of workspace $1, everything of person $2 passes to person $3. */
export const PASS_RECORDINGS = `
update recordings set owner_id = $3 where workspace_id = $1 and owner_id = $2 returning id`;

/** Person $2 was the sender of these recordings ($1, ids), and counts as a viewer from now on. */
export const PASS_VIEWER = `
update viewers v
   set number = (select greatest(max(o.number), -1) + 1 from viewers o where o.recording_id = v.recording_id)
 where v.recording_id = any($1::uuid[]) and v.person_id = $2 and v.number < 0 returning v.id`;

/** What waited for person $2 as the sender of these recordings ($1, ids) waits for person $3 now. */
export const PASS_INBOX = `
with gone as (
  delete from inbox where person_id = $2 and recording_id = any($1::uuid[])
     and kind in ('comment', 'answer', 'not-clear', 'reaction', 'view', 'ready', 'trouble', 'unused')
  returning subject, kind, recording_id, at, read_at, due_at)
insert into inbox (person_id, subject, kind, recording_id, at, read_at, due_at)
select $3, subject, kind, recording_id, at, read_at, due_at from gone
on conflict (person_id, subject) do nothing returning subject`;

/** Somebody comes by open join link $1; one that was mailed is closed with that. */
export const TAKE_LINK = `
update join_links set closed_at = case when address is null then closed_at else now() end
 where token = $1 and closed_at is null and ends_at > now() returning id`;

/** Was person $1 taken out of the workspace of the open join link $2, which is for whoever has it? */
export const TAKEN_OUT = /* sql */ `
select 1 from join_links l join removed_members r on r.workspace_id = l.workspace_id
 where l.token = $2 and l.address is null and r.person_id = $1`;

/** Person $2 was taken out of workspace $1. */
export const PUT_TAKEN_OUT = /* sql */ `
insert into removed_members (workspace_id, person_id) values ($1, $2) on conflict do nothing returning person_id`;

/** Person $2 belongs to workspace $1 again. */
export const BACK_AGAIN = /* sql */ `
delete from removed_members where workspace_id = $1 and person_id = $2 returning person_id`;

/** What the open join link $1 leads to. */
export const LINK = `
select w.id as "workspaceId", w.name as "workspaceName", l.role, p.name as "madeBy", l.address
  from join_links l join workspaces w on w.id = l.workspace_id left join people p on p.id = l.made_by
 where l.token = $1 and l.closed_at is null and l.ends_at > now()`;

/** The sites that may show recordings of workspace $1. */
export const SITES = `
select sites from workspaces where id = $1`;

/** Workspace $1 trusts site $2, unless it trusts $3 others. */
export const TRUST_SITE = `
update workspaces set sites = case when $2 = any(sites) then sites else sites || $2::text end
 where id = $1 and ($2 = any(sites) or cardinality(sites) < $3) returning id`;

/** Workspace $1 trusts site $2 no more. */
export const DROP_SITE = `
update workspaces set sites = array_remove(sites, $2::text) where id = $1 returning id`;

/** How workspace $1 looks. */
export const BRAND = `
select w.name, w.accent, w.bar, e.digest, e.width, e.height
  from workspaces w left join emblems e on e.workspace_id = w.id where w.id = $1`;

/** The emblem of workspace $1: its name $2, width $3, height $4, and its bytes $5. */
export const PUT_EMBLEM = `
insert into emblems (workspace_id, digest, width, height, bytes) values ($1, $2, $3, $4, $5)
on conflict (workspace_id) do update
   set digest = excluded.digest, width = excluded.width, height = excluded.height, bytes = excluded.bytes
returning digest`;

/** The emblem that is called $1, of whichever workspace. */
export const EMBLEM = `select bytes from emblems where digest = $1 limit 1`;
