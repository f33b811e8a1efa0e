/** The people of workspace $1, in the order of their names. */
export const PEOPLE = `
select p.id, p.name, p.email, m.role, m.joined_at as "joinedAt", count(r.id)::int as recordings
  from members m join people p on p.id = m.person_id
  left join recordings r on r.owner_id = p.id and r.workspace_id = m.workspace_id and r.deleted_at is null
 where m.workspace_id = $1 group by p.id, m.role, m.joined_at order by lower(p.name), p.id`;

/** The open join links of workspace $1, the newest first. */
export const LINKS = `
select l.id, l.token, l.role, p.name as "madeBy", l.ends_at as "endsAt"
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
  delete from inbox where person_id = $2 and recording_id = any($1::uuid[]) and kind in ('comment', 'answer', 'reaction')
  returning subject, kind, recording_id, at, read_at)
insert into inbox (person_id, subject, kind, recording_id, at, read_at)
select $3, subject, kind, recording_id, at, read_at from gone
on conflict (person_id, subject) do nothing returning subject`;

/** What the open join link $1 leads to. */
export const LINK = `
select w.id as "workspaceId", w.name as "workspaceName", l.role, p.name as "madeBy"
  from join_links l join workspaces w on w.id = l.workspace_id left join people p on p.id = l.made_by
 where l.token = $1 and l.closed_at is null and l.ends_at > now()`;
