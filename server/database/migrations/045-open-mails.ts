/** Letters that are not over are counted by whoever watches over a server. */
export const openMails = /* sql */ `
create index mails_open on mails (made_at) where sent_at is null;
`;
