/** People apart from workspaces: somebody may belong to several, and what they are there stands with the membership. */
export const people = /* sql */ `
alter table members rename to people;
create table members (
  workspace_id uuid not null references workspaces on delete cascade,
  person_id uuid not null references people on delete cascade,
  role text not null check (role in ('owner', 'member')),
  joined_at timestamptz not null default now(),
  primary key (workspace_id, person_id)
);
create index members_person on members (person_id, joined_at);
insert into members (workspace_id, person_id, role, joined_at) select workspace_id, id, role, created_at from people;
alter table people drop column workspace_id, drop column role;

-- the workspace that a session looks at; null or left: the one that was joined first
alter table sessions rename column member_id to person_id;
alter table sessions add column workspace_id uuid references workspaces on delete set null;

-- a recording outlives whoever made it: it passes to somebody named first
alter table recordings drop constraint recordings_owner_id_fkey,
  add foreign key (owner_id) references people on delete restrict;

alter table invites rename column member_id to person_id;
alter table viewers rename column member_id to person_id;
alter table inbox rename column member_id to person_id;

-- whoever has the link may join, until it ends or is closed
create table join_links (
  id uuid primary key,
  workspace_id uuid not null references workspaces on delete cascade,
  role text not null check (role in ('owner', 'member')),
  token text not null unique,
  made_by uuid references people on delete set null,
  made_at timestamptz not null default now(),
  ends_at timestamptz not null,
  closed_at timestamptz
);
create index join_links_workspace on join_links (workspace_id, made_at desc);

-- the functions of 003 with the columns' new names
drop function member_of;
create function person_of(viewer uuid) returns uuid language sql stable as
  $$ select person_id from viewers where id = viewer $$;

drop function put_in_inbox;
create function put_in_inbox(person uuid, what uuid, how text, recording uuid, moment timestamptz) returns void
language sql as $$
  insert into inbox (person_id, subject, kind, recording_id, at) values (person, what, how, recording, moment)
  on conflict (person_id, subject) do update set at = excluded.at, read_at = null
$$;

create or replace function comment_said() returns trigger language plpgsql as $$
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

create or replace function answer_said() returns trigger language plpgsql as $$
begin
  perform put_in_inbox(owner_id, new.id, 'answer', new.recording_id, new.answered_at)
     from recordings where id = new.recording_id and owner_id is distinct from person_of(new.viewer_id);
  return null;
end $$;

create or replace function reaction_said() returns trigger language plpgsql as $$
begin
  perform put_in_inbox(owner_id, new.id, 'reaction', new.recording_id, new.created_at)
     from recordings where id = new.recording_id and owner_id is distinct from person_of(new.viewer_id);
  return null;
end $$;

create or replace function invite_made() returns trigger language plpgsql as $$
begin
  perform put_in_inbox(new.person_id, new.id, 'owed', new.recording_id, new.created_at);
  return null;
end $$;
drop trigger invite_made on invites;
create trigger invite_made after insert or update of person_id on invites
  for each row when (new.person_id is not null) execute function invite_made();
`;
