/** Parts of takes: pieces of kept stretches, edges that were cut out of segments, and what is to be published. */
export const editing = /* sql */ `
-- its presenter has thrown it away: nothing brings it back
alter table takes add column discarded boolean not null default false;

-- a kept stretch may play several pieces of a track: n counts within it
alter table pieces add column stretch integer;
update pieces set stretch = n, n = 0;
alter table pieces
  alter column stretch set not null,
  drop constraint pieces_pkey, add primary key (revision_id, track, stretch, n),
  drop constraint pieces_first_check, add check (first <> 0);

-- a part of a segment is a segment of the same track with a number below 0
alter table segments drop constraint segments_number_check, add check (number <> 0);

-- which part of which segment it is, in ticks of the track from the beginning of its take
create table edges (
  track_id uuid not null references tracks on delete cascade,
  of_number integer not null check (of_number >= 1),
  from_tick bigint not null,
  to_tick bigint not null check (to_tick > from_tick),
  number integer not null check (number < 0),
  primary key (track_id, of_number, from_tick, to_tick)
);
create sequence edge_numbers as integer;

-- what a recording is to show next; seen: the revision that whoever wants it has seen. done of wanted edges are made
create table publications (
  recording_id uuid primary key references recordings on delete cascade,
  id uuid not null,
  seen integer not null,
  kept jsonb not null,
  state text not null check (state in ('waiting', 'published', 'failed')),
  done integer not null default 0,
  wanted integer not null default 0,
  problem text,
  asked_at timestamptz not null default now()
);
`;
