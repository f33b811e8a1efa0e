/** Who session $1 is of, while it lasts, and the workspaces that they belong to. */
export const SIGNED_IN = /* sql */ `
select p.id, p.name, p.email, s.workspace_id as chosen, json_agg(
         json_build_object('workspaceId', w.id, 'workspaceName', w.name, 'role', m.role)
         order by m.joined_at, w.id) as memberships
  from sessions s join people p on p.id = s.person_id
  join members m on m.person_id = p.id join workspaces w on w.id = m.workspace_id
 where s.id = $1 and s.expires_at > now() group by p.id, s.workspace_id`;
