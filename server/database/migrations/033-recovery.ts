/** An address that was changed can be had back by whoever has the letter that said so, however often it was changed. */
export const recovery = /* sql */ `
alter table proofs drop constraint proofs_pkey;
alter table proofs add primary key (hash);
alter table proofs drop constraint proofs_hash_key;
alter table proofs drop constraint proofs_kind_check;
alter table proofs add constraint proofs_kind_check check (kind in ('reset', 'address', 'undo'));
create unique index proofs_one_of_kind on proofs (person_id, kind) where kind <> 'undo';
create index proofs_of_person on proofs (person_id);
`;
