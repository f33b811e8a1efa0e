/** Takes that were brought in from another recording; voices without the noise around them; changes of the screen. */
export const brought = /* sql */ `
-- media_of: the take that the stored segments were sent for, where that was another one: they are stored once, and stay
-- as long as either is there
-- suppressed: where taking the noise out of its voice stands
alter table takes add column media_of uuid,
  add column suppressed text check (suppressed in ('wanted', 'made', 'failed'));
create index takes_media_of on takes (media_of) where media_of is not null;

-- where the screen of a take becomes another one
alter table looks add column changes jsonb;

-- a person's own, to choose one from
create index recordings_own on recordings (workspace_id, owner_id, created_at desc, id desc) where deleted_at is null;
`;
