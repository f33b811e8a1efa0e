/** What its sender is told of a recording: all of it is there, an edit could not be published, it stays after all. */
export const course = /* sql */ `
create function has_arrived() returns trigger language plpgsql as $$
begin
  if wants(new.owner_id, 'ready') then
    perform put_in_inbox(new.owner_id, new.id, 'ready', new.id, now());
  end if;
  return null;
end $$;
create trigger has_arrived after update of owed on recordings
  for each row when (old.owed = 'arriving' and new.owed <> 'arriving') execute function has_arrived();

-- a take whose rest does not come is told of by a job, and no more once it is there
create trigger has_arrived after update of state on takes
  for each row when (new.state = 'complete' and old.state <> 'complete') execute function taken_back();

-- asked for again, it is another one
create function publication_failed() returns trigger language plpgsql as $$
begin
  perform put_in_inbox(owner_id, new.id, 'trouble', new.recording_id, now())
     from recordings where id = new.recording_id;
  return null;
end $$;
create trigger publication_failed after update of state on publications
  for each row when (new.state = 'failed' and old.state <> 'failed') execute function publication_failed();
create trigger asked_anew after update of id on publications
  for each row when (new.id <> old.id) execute function taken_back();

-- it does not go after all: nothing is to be told
create function let_stay() returns trigger language plpgsql as $$
begin
  delete from inbox where subject = new.id and kind = 'unused';
  return null;
end $$;
create trigger let_stay after update of goes_at on recordings
  for each row when (old.goes_at is not null and new.goes_at is null) execute function let_stay();
`;
