/** Channels as places: what is said of a film there changes with it. */
export const channels = /* sql */ `
alter table places drop constraint places_kind_check;
alter table places add constraint places_kind_check check (kind in ('webdav', 'channel'));
alter table sendings
  add column seen_by text not null default 'people' check (seen_by in ('people', 'link', 'everybody')),
  -- what is said of it, counted as it changes; and how much of that the place was told
  add column about_version integer not null default 1,
  add column told_version integer not null default 0,
  -- of which file an upload is that could go on, and the revision that is on its way
  add column resume_key text,
  add column coming integer;
-- places were told all there was
update sendings set told_version = 1;
drop index sendings_under_way;
create index sendings_under_way on sendings (id)
  where state in ('waiting', 'sending', 'processing', 'removing')
     or (link is not null and told_version < about_version);
`;
