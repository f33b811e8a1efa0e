/** What people are told of, in the Answers place and by mail; what is new in folders; reminders; who shares outside. */
export const notices = /* sql */ `
-- how somebody wants to be told, where they have chosen; core/notices says what holds for everybody else
create table notice_wishes (
  person_id uuid primary key references people on delete cascade,
  mail jsonb not null,
  hidden text[] not null,
  zone text not null,
  quiet_from smallint check (quiet_from between 0 and 23),
  quiet_until smallint check (quiet_until between 0 and 23 and quiet_until <> quiet_from),
  check ((quiet_from is null) = (quiet_until is null))
);

-- what is not clear yet has a kind of its own, whichever way it was said
alter table inbox drop constraint inbox_kind_check;
update inbox set kind = 'not-clear' where kind = 'reaction';
update inbox b set kind = 'not-clear' from answers n
 where n.id = b.subject and b.kind = 'answer' and n.answer ->> 'kind' = 'not-clear';
alter table inbox add constraint inbox_kind_check check (kind in
    ('comment', 'reply', 'not-clear', 'answer', 'reaction', 'view', 'owed', 'folder', 'ready', 'trouble')),
  -- when it is looked at next whether it is to be told by mail; empty once it was told, was read, or is not wanted
  add column due_at timestamptz;
create index inbox_due on inbox (due_at) where due_at is not null;
create index inbox_due_of on inbox (person_id, due_at) where due_at is not null;

create or replace function put_in_inbox(person uuid, what uuid, how text, recording uuid, moment timestamptz)
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

create or replace function answer_said() returns trigger language plpgsql as $$
begin
  perform put_in_inbox(owner_id, new.id, case new.answer ->> 'kind' when 'not-clear' then 'not-clear' else 'answer' end,
                       new.recording_id, new.answered_at)
     from recordings where id = new.recording_id and owner_id is distinct from person_of(new.viewer_id);
  return null;
end $$;

create or replace function reaction_said() returns trigger language plpgsql as $$
begin
  perform put_in_inbox(owner_id, new.id, case new.kind when 'not-clear' then 'not-clear' else 'reaction' end,
                       new.recording_id, new.created_at)
     from recordings
    where id = new.recording_id and owner_id is distinct from person_of(new.viewer_id)
      and (new.kind = 'not-clear' or wants(owner_id, 'reaction'));
  return null;
end $$;
drop trigger reaction_said on reactions;
create trigger reaction_said after insert on reactions for each row execute function reaction_said();

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
create trigger taken_back after delete on viewers for each row execute function taken_back();

-- people of a folder without an account: when they are mailed what is new
alter table folder_people
  add column news text not null default 'now' check (news in ('now', 'day', 'week', 'never')),
  add column zone text not null default 'UTC',
  -- when they were mailed such news last
  add column told_at timestamptz;
alter table people add column told_at timestamptz;
-- what is new for them, each once
create table folder_news (
  folder_person_id uuid not null references folder_people on delete cascade,
  recording_id uuid not null references recordings on delete cascade,
  at timestamptz not null default now(),
  -- when it is looked at next whether it is to be told; empty afterwards
  due_at timestamptz default now(),
  primary key (folder_person_id, recording_id)
);
create index folder_news_recording on folder_news (recording_id);
create index folder_news_due on folder_news (due_at) where due_at is not null;

-- a recording has come to lie in a folder, where its people can see it: each of them is told so once
create function tell_of_shelved() returns trigger language plpgsql as $$
declare
  folder folders := (select f from folders f where f.id = new.folder_id);
  due timestamptz := greatest(now(), new.opens_at);
begin
  insert into inbox (person_id, subject, kind, recording_id, at, due_at)
  select person_id, new.id, 'folder', new.id, now(), due from (
    select p.person_id from folder_people p where p.folder_id = any(folder.path) and p.person_id is not null
     union
    select m.person_id from members m where m.workspace_id = folder.workspace_id and folder.colleagues_here is not null) t
   where person_id <> new.owner_id
  on conflict do nothing;
  insert into folder_news (folder_person_id, recording_id, due_at)
  select distinct on (coalesce(p.email, p.id::text)) p.id, new.id, due
    from folder_people p where p.folder_id = any(folder.path) and p.person_id is null
  on conflict do nothing;
  return null;
end $$;
create trigger shelved after update of folder_id, audience, owed, deleted_at on recordings for each row
  when (new.folder_id is not null and new.deleted_at is null and new.audience in ('folder', 'workspace', 'anyone')
        and new.owed <> 'arriving'
        and (old.folder_id is distinct from new.folder_id or old.owed = 'arriving' or old.deleted_at is not null
             or old.audience not in ('folder', 'workspace', 'anyone')))
  execute function tell_of_shelved();

-- all of it has arrived
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
create index takes_silent on takes (heard_at) where state <> 'complete';
create trigger has_arrived after update of state on takes
  for each row when (new.state = 'complete' and old.state <> 'complete') execute function taken_back();
create trigger taken_back after delete on takes for each row execute function taken_back();

-- an edit could not be published; asked for again, it is another one
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
create trigger taken_back after delete on publications for each row execute function taken_back();

-- who wants no news is sent recordings all the same
alter table mail_refusals
  add column what text not null default 'sent' check (what in ('sent', 'news')),
  drop constraint mail_refusals_pkey,
  add primary key (address, what);

-- who may let people from outside open something
alter table workspaces add column outside text not null default 'everybody' check (outside in ('everybody', 'owners'));

-- what was written down and then forgotten, because the process ended before its job was asked for
create index mails_forgotten on mails (made_at) where sent_at is null and failed is null and text is not null;

-- those who have not answered are reminded by themselves, once, the day before it is needed
alter table asks add column reminds boolean not null default false, add column reminded_at timestamptz;
create index asks_reminding on asks (due_ends) where reminds and reminded_at is null and not closed;
alter table invites add column reminded_at timestamptz;
`;
