/** What waits is found by whoever takes it up after a process has died. */
export const follow = /* sql */ `
create index publications_waiting on publications (asked_at) where state = 'waiting';
create index takes_suppressed on takes (id) where suppressed = 'wanted';
alter table publications add column by_itself boolean not null default false;
alter table mails add column claimed_at timestamptz;
create index takes_started on takes (started_at);
`;
