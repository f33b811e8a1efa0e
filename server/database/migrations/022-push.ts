/** Web Push (RFC 8030). */
export const push = /* sql */ `
-- by what the browser of a session is told what is new: its push subscription. It ends with the session
alter table sessions add column push jsonb;
create unique index sessions_push on sessions ((push ->> 'endpoint')) where push is not null;

-- what browsers of somebody are told instead; when that was sent to them; and when one of them has shown it
alter table mails add column push jsonb, add column pushed_at timestamptz, add column shown_at timestamptz;
`;
