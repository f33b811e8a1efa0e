/** Notes of consent. */
export const consent = /* sql */ `
-- who else is seen or heard in it, as its sender notes it; and when they noted that these agree
alter table recordings add column consent_who text not null default '' check (length(consent_who) <= 300),
  add column agreed_at timestamptz, add check (agreed_at is null or consent_who <> '');
`;
