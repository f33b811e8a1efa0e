/** Addresses of programs that are told what happens. */
export const hooks = /* sql */ `
-- an address that is told what comes to somebody's inbox in one of their workspaces
create table hooks (
  id uuid primary key,
  person_id uuid not null references people on delete cascade,
  workspace_id uuid not null references workspaces on delete cascade,
  url text not null,
  kinds text[] not null check (kinds <@ array['comment', 'reply', 'answer', 'not-clear'] and cardinality(kinds) > 0),
  -- signs what is sent: whoever receives it has it as well
  secret bytea not null,
  made_at timestamptz not null default now()
);
create index hooks_person on hooks (person_id, made_at);
create index hooks_workspace on hooks (workspace_id);

-- something that one of them is told
create table deliveries (
  id uuid primary key default gen_random_uuid(),
  hook_id uuid not null references hooks on delete cascade,
  -- what it is in the inbox; nothing for a try
  subject uuid,
  at timestamptz not null default now(),
  tries smallint not null default 0,
  -- when it is sent next; empty once it was taken, or given up
  due_at timestamptz default now(),
  tried_at timestamptz,
  -- what was answered last: its status, or nothing where nobody did; and the beginning of what was said
  status smallint,
  said text
);
create index deliveries_due on deliveries (due_at) where due_at is not null;
create index deliveries_hook on deliveries (hook_id, at desc);

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
