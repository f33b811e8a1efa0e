/** Edits that are worked on, and what is known of the sounds and pictures of takes. */
export const drafts = /* sql */ `
-- seen: the revision that it changes; version counts what was saved of it
create table drafts (
  recording_id uuid primary key references recordings on delete cascade,
  version integer not null,
  seen integer not null,
  history jsonb not null,
  saved_at timestamptz not null default now()
);

-- voice, sound: levels, 50 a second, in dBFS, a signed byte each. strip: one JPEG of many small pictures, which
-- pictures tells: their moments, their size, how many stand in a row
create table looks (
  take_id uuid primary key references takes on delete cascade,
  voice bytea,
  sound bytea,
  pictures jsonb,
  strip bytea
);
`;
