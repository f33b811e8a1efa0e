/** By what the words of a film are told: it is current for all that it holds. What was made before is made anew. */
export const filmWords = /* sql */ `
alter table films add column words text;
`;
