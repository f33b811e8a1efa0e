/** A part of a sound in whose place nothing is heard. */
export const silence = /* sql */ `
alter table edges add column silent boolean not null default false;
alter table edges
  drop constraint edges_pkey, add primary key (track_id, of_number, from_tick, to_tick, silent);
`;
