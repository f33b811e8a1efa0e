/** The set-ups of person $1, in the order of their names. */
export const SET_UPS = /* sql */ `
select id, name, wishes, is_first as "isFirst" from set_ups where person_id = $1 order by lower(name)`;

/**
 * Set-up $1 of person $2 with name $3 and wishes $4, the first or not ($5); one of that name is written over. $6 is how
 * many a person may have; nothing where they have them.
 */
export const SAVE_SET_UP = /* sql */ `
insert into set_ups (id, person_id, name, wishes, is_first)
select $1, $2, $3, $4, $5
 where (select count(*) from set_ups where person_id = $2 and lower(name) <> lower($3)) < $6
on conflict (person_id, lower(name)) do update
   set name = excluded.name, wishes = excluded.wishes, is_first = excluded.is_first returning id`;

/**
 * How much workspace $1 may record, and how much it holds, with what was deleted and is still kept. That is added up
 * where there is a limit, or when it is asked for ($2); else it is 0.
 */
export const ROOM = /* sql */ `
select w.longest_take_us as "longestUs", w.storage_bytes as most,
       case when $2 or w.storage_bytes is not null then coalesce((
    select sum(coalesce(t.bytes, growing.bytes))
      from recordings r join takes t on t.recording_id = r.id
      left join lateral (
        select sum(s.size) as bytes from tracks k join segments s on s.track_id = k.id
         where t.bytes is null and k.take_id = t.id) growing on true
     where r.workspace_id = w.id), 0) else 0 end::bigint as used
  from workspaces w where w.id = $1`;
