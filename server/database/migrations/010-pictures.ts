/** Pictures that owners put on their recordings, and in place of their posters. */
export const pictures = /* sql */ `
-- made small and safe: WebP, drawn anew from what was sent
create table pictures (
  id uuid primary key,
  recording_id uuid not null references recordings on delete cascade,
  width integer not null,
  height integer not null,
  bytes bytea not null,
  made_at timestamptz not null default now()
);
create index pictures_of_recording on pictures (recording_id);

-- its poster is a picture that its owner has sent, and none of its own moments
alter table recordings add column poster_own boolean not null default false;
`;
