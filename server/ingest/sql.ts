/**
 * A track of an open take: id $1, take $2, name $3, kind $4, init key $5, digest $6, init $7. The revision that shows
 * the take as it grows gets its piece with it. Nothing where the take is closed or has a track of this name.
 */
export const ADD_TRACK = /* sql */ `
with added as (
  insert into tracks (id, take_id, name, kind, init_key, init_digest, init)
    select $1, $2, $3, $4, $5, $6, $7 from takes where id = $2 and state <> 'complete'
  on conflict (take_id, name) do nothing returning id, take_id, name
), shown as (
  insert into pieces (revision_id, track, n, track_id, first, moved_us)
    select v.id, a.name, jsonb_array_length(v.recipe -> 'kept') - 1, a.id, 1, v.closed_us - v.grows_from_us
      from added a join revisions v on v.grows = a.take_id
)
select id from added`;
