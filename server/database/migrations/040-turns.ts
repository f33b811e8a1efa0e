/** What was asked for lately, for whose turn it is. */
export const turns = /* sql */ `
create index publications_asked on publications (asked_at);
create index films_asked on films (asked_at);
`;
