/** Edits that are worked on, and what is known of the sounds and pictures of takes. */
export const drafts = /* sql */ `
-- the moment that its owner has chosen for its poster, on the source line
alter table recordings add column poster_at bigint;

-- edges are looked for by their age
create index segments_edges on segments (stored_at) where number < 0;

-- what is to be published is a whole recipe
alter table publications add column recipe jsonb;
update publications set recipe = jsonb_build_object('version', 2, 'kept', kept);
alter table publications alter column recipe set not null, drop column kept;

-- seen: the revision that it changes; version counts what was saved of it; saved_by: the window that did so last
create table drafts (
  recording_id uuid primary key references recordings on delete cascade,
  version integer not null,
  seen integer not null,
  history jsonb not null,
  saved_by uuid,
  saved_at timestamptz not null default now()
);

-- measured: of both, integrated loudness (LUFS) and true peak (dBTP), null for silence.
-- voice, sound: levels, 50 a second, in dBFS, a signed byte each. strip: one JPEG of many small pictures, which
-- pictures tells: their moments, their size, how many stand in a row
create table looks (
  take_id uuid primary key references takes on delete cascade,
  voice bytea,
  sound bytea,
  measured jsonb not null default '{}',
  pictures jsonb,
  strip bytea
);
`;
