/** Since when a take is thrown away: what was recorded of it goes as all that is deleted does. */
export const discarded = /* sql */ `
alter table takes add column discarded_at timestamptz;
update takes set discarded_at = now() where discarded;
alter table takes add constraint takes_discarded check (discarded = (discarded_at is not null));
create index takes_to_clear on takes (discarded_at) where discarded_at is not null and bytes is distinct from 0;
`;
