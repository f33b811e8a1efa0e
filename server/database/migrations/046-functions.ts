/** Functions and triggers are put in force anew where they have changed (`../functions`): which ones are. */
export const functions = /* sql */ `
create table functions_in_force (digest text primary key, names text[] not null);
`;
