/** What is still owed for a recording, so that a library of any size is read group by group; as `owedOf` in core. */
export const owed = /* sql */ `
create function refresh_owed(recording uuid) returns void language sql as $$
  update recordings r set owed = n.owed from (
    select s.id, case
        when s.duration_us = 0
          or exists (select 1 from takes t where t.recording_id = s.id and t.state <> 'complete') then 'arriving'
        when s.audience = 'owner' then 'draft'
        when a.kind is null then 'nothing'
        when a.closed or (a.asked > 0 and a.answered >= a.asked and a.not_clear = 0) then 'answered'
        else 'waiting' end as owed
      from recordings s left join ask_standings a on a.recording_id = s.id where s.id = recording) n
   where r.id = n.id and r.owed <> n.owed
$$;

create function owed_changed() returns trigger language plpgsql as $$
begin
  perform refresh_owed(case when tg_op = 'DELETE' then old.recording_id else new.recording_id end);
  return null;
end $$;
create trigger owed_changed after insert or update or delete on asks for each row execute function owed_changed();
create trigger owed_changed after insert or update or delete on answers for each row execute function owed_changed();
create trigger owed_changed after insert or delete on invites for each row execute function owed_changed();
create trigger owed_changed after update of invite_id on viewers for each row
  when (old.invite_id is distinct from new.invite_id) execute function owed_changed();
create trigger owed_changed after insert or update of state on takes for each row execute function owed_changed();

create function owed_of_itself_changed() returns trigger language plpgsql as $$
begin
  perform refresh_owed(new.id);
  return null;
end $$;
create trigger owed_changed after update of audience, duration_us on recordings for each row
  when (old.audience <> new.audience or old.duration_us <> new.duration_us) execute function owed_of_itself_changed();
`;
