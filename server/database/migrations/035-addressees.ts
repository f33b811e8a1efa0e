/** How many letters somebody has got that others have sent, whoever they were. */
export const addressees = /* sql */ `
create index mails_addressee on mails (to_address, made_at) where sender_id is not null;
`;
