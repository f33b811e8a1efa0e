/** What has been done to this database as a whole. */
export const ground = /* sql */ `
create table marks (
  name text primary key,
  at timestamptz not null default now()
);
-- a database that has anything in it was loaded by a version that knew no marks
insert into marks (name) select 'sample' where exists (select 1 from workspaces);

-- an ask has another version whenever something else is asked, and an answer names the one that it answers
create sequence ask_versions;
alter table asks
  add column version bigint not null default nextval('ask_versions'),
  add column due_ends timestamptz;
update asks set due_ends = (due + 1)::timestamp at time zone current_setting('timezone') where due is not null;
alter table answers add column ask_version bigint not null default 0;
update answers w set ask_version = a.version from asks a
 where a.recording_id = w.recording_id and w.answer ->> 'kind' in (a.kind, 'not-clear');
alter table answers alter column ask_version drop default;

-- where each ask stands: the one definition of *answered* and *overdue* for lists; core/answers has it for single people
create view ask_standings as
select a.recording_id, a.kind, a.closed,
       i.asked, i.answered, w.others, w.not_clear,
       (not a.closed and a.due_ends <= now() and i.answered < i.asked) is true as overdue
  from asks a
  cross join lateral (
    select count(*)::int as asked,
           count(*) filter (where exists (
             select 1 from viewers v join answers n on n.viewer_id = v.id
              where v.invite_id = i.id and n.ask_version = a.version))::int as answered
      from invites i where i.recording_id = a.recording_id) i
  cross join lateral (
    select count(*) filter (where v.invite_id is null)::int as others,
           count(*) filter (where n.answer ->> 'kind' = 'not-clear')::int as not_clear
      from answers n join viewers v on v.id = n.viewer_id
     where n.recording_id = a.recording_id and n.ask_version = a.version) w;

-- what waits for each member, kept by triggers whichever way something is said; read_at is empty while it is new
create table inbox (
  member_id uuid not null references members on delete cascade,
  -- the comment, answer, reaction or invitation
  subject uuid not null,
  kind text not null check (kind in ('comment', 'reply', 'answer', 'reaction', 'owed')),
  recording_id uuid not null references recordings on delete cascade,
  at timestamptz not null,
  read_at timestamptz,
  primary key (member_id, subject)
);
create index inbox_newest on inbox (member_id, at desc, subject);
create index inbox_unread on inbox (member_id, at desc) where read_at is null;
create index inbox_subject on inbox (subject);
create index inbox_recording on inbox (recording_id);

create function put_in_inbox(member uuid, what uuid, how text, recording uuid, moment timestamptz) returns void
language sql as $$
  insert into inbox (member_id, subject, kind, recording_id, at) values (member, what, how, recording, moment)
  on conflict (member_id, subject) do update set at = excluded.at, read_at = null
$$;

-- who said it; null for guests
create function member_of(viewer uuid) returns uuid language sql stable as
  $$ select member_id from viewers where id = viewer $$;

create function comment_said() returns trigger language plpgsql as $$
declare
  author uuid := member_of(new.viewer_id);
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
    perform put_in_inbox(member_id, new.id, 'reply', new.recording_id, moment) from (
      select distinct v.member_id from comments o join viewers v on v.id = o.viewer_id
       where (o.id = new.reply_to or o.reply_to = new.reply_to) and v.member_id is not null
         and v.member_id is distinct from author and v.member_id <> owner) thread;
  end if;
  return null;
end $$;
create trigger comment_said after insert or update of body, removed_at on comments
  for each row execute function comment_said();

create function answer_said() returns trigger language plpgsql as $$
begin
  perform put_in_inbox(owner_id, new.id, 'answer', new.recording_id, new.answered_at)
     from recordings where id = new.recording_id and owner_id is distinct from member_of(new.viewer_id);
  return null;
end $$;
create trigger answer_said after insert or update on answers for each row execute function answer_said();

create function reaction_said() returns trigger language plpgsql as $$
begin
  perform put_in_inbox(owner_id, new.id, 'reaction', new.recording_id, new.created_at)
     from recordings where id = new.recording_id and owner_id is distinct from member_of(new.viewer_id);
  return null;
end $$;
create trigger reaction_said after insert on reactions
  for each row when (new.kind = 'not-clear') execute function reaction_said();

create function invite_made() returns trigger language plpgsql as $$
begin
  perform put_in_inbox(new.member_id, new.id, 'owed', new.recording_id, new.created_at);
  return null;
end $$;
create trigger invite_made after insert or update of member_id on invites
  for each row when (new.member_id is not null) execute function invite_made();

create function taken_back() returns trigger language plpgsql as $$
begin
  delete from inbox where subject = old.id;
  return null;
end $$;
create trigger taken_back after delete on comments for each row execute function taken_back();
create trigger taken_back after delete on answers for each row execute function taken_back();
create trigger taken_back after delete on reactions for each row execute function taken_back();
create trigger taken_back after delete on invites for each row execute function taken_back();

-- what was said before
insert into inbox (member_id, subject, kind, recording_id, at)
  select r.owner_id, c.id, 'comment', r.id, greatest(c.created_at, c.edited_at)
    from comments c join recordings r on r.id = c.recording_id join viewers v on v.id = c.viewer_id
   where c.removed_at is null and v.member_id is distinct from r.owner_id
  union all
  select distinct ov.member_id, c.id, 'reply', r.id, greatest(c.created_at, c.edited_at)
    from comments c join recordings r on r.id = c.recording_id join viewers v on v.id = c.viewer_id
    join comments o on o.id = c.reply_to or o.reply_to = c.reply_to join viewers ov on ov.id = o.viewer_id
   where c.removed_at is null and ov.member_id is not null and ov.member_id <> r.owner_id
     and ov.member_id is distinct from v.member_id
  union all
  select r.owner_id, a.id, 'answer', r.id, a.answered_at from answers a join recordings r on r.id = a.recording_id
  union all
  select r.owner_id, x.id, 'reaction', r.id, x.created_at
    from reactions x join recordings r on r.id = x.recording_id join viewers v on v.id = x.viewer_id
   where x.kind = 'not-clear' and v.member_id is distinct from r.owner_id
  union all
  select i.member_id, i.id, 'owed', i.recording_id, i.created_at from invites i where i.member_id is not null;
update inbox i set read_at = d.read_at from reads d
 where d.member_id = i.member_id and d.subject = i.subject and d.read_at >= i.at;
drop table reads;

-- what is still owed for a recording, so that a library of any size can be read group by group; as owedOf in core
alter table recordings add column owed text not null default 'arriving'
  check (owed in ('arriving', 'waiting', 'answered', 'nothing', 'draft'));
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
create function owed_of_itself_changed() returns trigger language plpgsql as $$
begin
  perform refresh_owed(new.id);
  return null;
end $$;
create trigger owed_changed after insert or update or delete on asks for each row execute function owed_changed();
create trigger owed_changed after insert or update or delete on answers for each row execute function owed_changed();
create trigger owed_changed after insert or delete on invites for each row execute function owed_changed();
create trigger owed_changed after update of invite_id on viewers for each row
  when (old.invite_id is distinct from new.invite_id) execute function owed_changed();
create trigger owed_changed after insert or update of state on takes for each row execute function owed_changed();
create trigger owed_changed after update of audience, duration_us on recordings for each row
  when (old.audience <> new.audience or old.duration_us <> new.duration_us) execute function owed_of_itself_changed();
select refresh_owed(id) from recordings;
create index recordings_owed on recordings (owner_id, owed, created_at desc, id desc) where deleted_at is null;
create index recordings_shared on recordings (workspace_id, created_at desc, id desc)
  where deleted_at is null and audience = 'anyone';
`;
