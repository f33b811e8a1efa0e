/** A mark is what somebody sets on a recording; what has been done to the database is a milestone. */
export const milestones = /* sql */ `
alter table marks rename to milestones;
`;
