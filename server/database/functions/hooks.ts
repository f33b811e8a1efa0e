/** Addresses of programs are told what their person is told. */
export const hooks = /* sql */ `
create function tell_hooks() returns trigger language plpgsql as $$
begin
  insert into deliveries (hook_id, subject, at)
  select h.id, new.subject, new.at
    from hooks h join recordings r on r.id = new.recording_id and r.workspace_id = h.workspace_id
   where h.person_id = new.person_id and new.kind = any(h.kinds);
  return null;
end $$;
create trigger tell_hooks_of_new after insert on inbox for each row execute function tell_hooks();
create trigger tell_hooks_of_change after update of at on inbox
  for each row when (old.at is distinct from new.at) execute function tell_hooks();
`;
