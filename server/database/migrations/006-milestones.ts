/** A mark is what somebody sets on a recording; what has been done to the database is a milestone. */
export const milestones = /* sql */ `
alter table marks rename to milestones;

-- few ask not to be named: they are counted without a look at all the others
create index viewers_unnamed on viewers (recording_id) where not named;
`;
