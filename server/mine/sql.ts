import { isoOf } from "../database/moments";

/** What person $1 has made, in all workspaces, the oldest first. */
export const MADE = /* sql */ `
select r.id, r.token, r.title, w.name as "workspaceName", r.audience, ${isoOf("r.created_at")} as "createdAt",
       (select array_agg(a.name order by array_position(f.path, a.id)) from folders f
          join folders a on a.id = any(f.path) where f.id = r.folder_id) as folders,
       ${isoOf("r.deleted_at")} as "deletedAt",
       json_build_object('who', r.consent_who, 'agreedAt', ${isoOf("r.agreed_at")}) as consent
  from recordings r join workspaces w on w.id = r.workspace_id
 where r.owner_id = $1 order by r.created_at, r.id`;

/** The tracks of what person $1 has made; of takes that were thrown away, none. */
export const TRACKS = /* sql */ `
select k.id, t.recording_id as "recordingId", t.position, k.name, k.init_key as "initKey"
  from recordings r join takes t on t.recording_id = r.id join tracks k on k.take_id = t.id
 where r.owner_id = $1 and not t.discarded order by t.recording_id, t.position, k.name`;

/** The parts of track $1 as they were recorded, in order; what was made of them for edits is none of them. */
export const PARTS = /* sql */ `select key from segments where track_id = $1 and number > 0 order by number`;

/** Who was asked at recording $1, whether they have come, and what everybody has answered. */
export const ASKED = /* sql */ `
select coalesce(m.name, g.name, i.name) as name, i.email, i.id is not null as asked,
       ${isoOf("v.first_opened_at")} as opened, ${isoOf("a.answered_at")} as at, a.answer,
       (a.answer ->> 'at')::float8 / 1e6 as seconds
  from invites i full join (select * from viewers where recording_id = $1) v on v.invite_id = i.id
  left join people m on m.id = coalesce(v.person_id, i.person_id)
  left join guests g on g.id = v.guest_id left join answers a on a.viewer_id = v.id
 where (i.recording_id = $1 or (i.id is null and a.id is not null)) order by i.created_at, a.answered_at`;

/** What person $1 has said to recordings, and when. Of the recordings nothing: they may be seen no more. */
export const SAID = /* sql */ `
select 'comment' as what, c.recording_id as recording, ${isoOf("c.created_at")} as at,
       (c.at_us / 1e6)::float8 as seconds, to_jsonb(c.body) as said
  from viewers v join comments c on c.viewer_id = v.id
 where v.person_id = $1 and c.removed_at is null and c.imported_from is null
union all
select 'reaction', x.recording_id, ${isoOf("x.created_at")}, (x.at_us / 1e6)::float8, to_jsonb(x.kind)
  from viewers v join reactions x on x.viewer_id = v.id where v.person_id = $1
union all
select 'answer', a.recording_id, ${isoOf("a.answered_at")}, null::float8, a.answer
  from viewers v join answers a on a.viewer_id = v.id where v.person_id = $1
order by at`;

/** The recordings that person $1 has opened. */
export const OPENED = /* sql */ `
select recording_id as recording, named, ${isoOf("first_opened_at")} as first, ${isoOf("last_opened_at")} as last
  from viewers where person_id = $1 order by first_opened_at`;
