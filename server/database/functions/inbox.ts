/** What is new for a person: put there, and taken back with what it is about. */
export const inbox = /* sql */ `
create function put_in_inbox(person uuid, what uuid, how text, recording uuid, moment timestamptz)
returns void language sql as $$
  insert into inbox (person_id, subject, kind, recording_id, at, due_at)
  values (person, what, how, recording, moment, now())
  on conflict (person_id, subject) do update
     set at = excluded.at, kind = excluded.kind, read_at = null, due_at = excluded.due_at
$$;

-- what is told only to whoever has chosen it
create function wants(person uuid, what text) returns boolean language sql stable as $$
  select exists (select from notice_wishes w
                  where w.person_id = person and (what <> all(w.hidden) or w.mail ->> what <> 'never'))
$$;

-- who said it; null for guests
create function person_of(viewer uuid) returns uuid language sql stable as
  $$ select person_id from viewers where id = viewer $$;

create function taken_back() returns trigger language plpgsql as $$
begin
  delete from inbox where subject = old.id;
  return null;
end $$;
create trigger taken_back after delete on comments for each row execute function taken_back();
create trigger taken_back after delete on answers for each row execute function taken_back();
create trigger taken_back after delete on reactions for each row execute function taken_back();
create trigger taken_back after delete on invites for each row execute function taken_back();
create trigger taken_back after delete on viewers for each row execute function taken_back();
create trigger taken_back after delete on takes for each row execute function taken_back();
create trigger taken_back after delete on publications for each row execute function taken_back();
`;
