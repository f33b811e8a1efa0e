/** Who is told of what was said at a recording, of who was asked, and of who came. */
export const said = /* sql */ `
create function comment_said() returns trigger language plpgsql as $$
declare
  author uuid := person_of(new.viewer_id);
  owner uuid := (select owner_id from recordings where id = new.recording_id);
  moment timestamptz := greatest(new.created_at, new.edited_at);
begin
  if new.removed_at is not null then
    delete from inbox where subject = new.id;
    return null;
  end if;
  if tg_op = 'UPDATE' and new.body = old.body then return null; end if;
  if owner is distinct from author then
    perform put_in_inbox(owner, new.id, 'comment', new.recording_id, moment);
  end if;
  if new.reply_to is not null then
    perform put_in_inbox(person_id, new.id, 'reply', new.recording_id, moment) from (
      select distinct v.person_id from comments o join viewers v on v.id = o.viewer_id
       where (o.id = new.reply_to or o.reply_to = new.reply_to) and v.person_id is not null
         and v.person_id is distinct from author and v.person_id <> owner) thread;
  end if;
  return null;
end $$;
create trigger comment_said after insert or update of body, removed_at on comments
  for each row execute function comment_said();

create function answer_said() returns trigger language plpgsql as $$
begin
  perform put_in_inbox(owner_id, new.id, case new.answer ->> 'kind' when 'not-clear' then 'not-clear' else 'answer' end,
                       new.recording_id, new.answered_at)
     from recordings where id = new.recording_id and owner_id is distinct from person_of(new.viewer_id);
  return null;
end $$;
create trigger answer_said after insert or update on answers for each row execute function answer_said();

create function reaction_said() returns trigger language plpgsql as $$
begin
  perform put_in_inbox(owner_id, new.id, case new.kind when 'not-clear' then 'not-clear' else 'reaction' end,
                       new.recording_id, new.created_at)
     from recordings
    where id = new.recording_id and owner_id is distinct from person_of(new.viewer_id)
      and (new.kind = 'not-clear' or wants(owner_id, 'reaction'));
  return null;
end $$;
create trigger reaction_said after insert on reactions for each row execute function reaction_said();

create function invite_made() returns trigger language plpgsql as $$
begin
  perform put_in_inbox(new.person_id, new.id, 'owed', new.recording_id, new.created_at);
  return null;
end $$;
create trigger invite_made after insert or update of person_id on invites
  for each row when (new.person_id is not null) execute function invite_made();

-- somebody who is named has come
create function viewer_came() returns trigger language plpgsql as $$
begin
  perform put_in_inbox(owner_id, new.id, 'view', new.recording_id, new.first_opened_at)
     from recordings
    where id = new.recording_id and owner_id is distinct from new.person_id and wants(owner_id, 'view');
  return null;
end $$;
create trigger viewer_came after insert on viewers
  for each row when (new.invite_id is not null and new.named) execute function viewer_came();
`;
