/**
 * Several takes in one recording: moments on one source line, on which take n begins n - 1 days after its zero; what a
 * revision plays as runs of segments; tracks with names; and what happened in a take as small rows.
 */
export const takes = /* sql */ `
-- how long the take is; null until it is complete
alter table takes add column duration_us bigint;
update takes t set duration_us = r.duration_us from recordings r where r.id = t.recording_id and t.state = 'complete';

-- grows: the take whose rest is shown as it comes in, from grows_from_us of its own time on; what is shown before that
-- is closed_us long
alter table revisions
  add column grows uuid references takes on delete cascade,
  add column grows_from_us bigint not null default 0,
  add column closed_us bigint not null default 0;
create index revisions_grows on revisions (grows) where grows is not null;
update revisions set grows = (recipe -> 'kept' -> -1 ->> 'take')::uuid where recipe -> 'kept' -> -1 ->> 'to' is null;
update revisions v set recipe = jsonb_build_object('version', 2, 'kept', (
  select jsonb_agg(jsonb_build_object(
           'from', (t.position - 1) * 86400000000 + (k ->> 'from')::bigint,
           'to', (t.position - 1) * 86400000000 + (k ->> 'to')::bigint) order by n)
    from jsonb_array_elements(v.recipe -> 'kept') with ordinality as e(k, n)
    join takes t on t.id = (k ->> 'take')::uuid));

-- a take may have several tracks of a kind: camera, camera-2
alter table tracks add column name text;
update tracks set name = kind;
alter table tracks alter column name set not null, drop constraint tracks_take_id_kind_key, add unique (take_id, name);

-- what a revision plays: runs of segments of one track, in order; last is null while all that comes in is shown.
-- moved_us: how much later a moment of the take is shown
create table pieces (
  revision_id uuid not null references revisions on delete cascade,
  track text not null,
  n integer not null,
  track_id uuid not null references tracks on delete cascade,
  first integer not null check (first >= 1),
  last integer check (last >= first),
  moved_us bigint not null,
  primary key (revision_id, track, n)
);
create index pieces_track on pieces (track_id);
insert into pieces (revision_id, track, n, track_id, first, moved_us)
  select v.id, k.name, 0, k.id, 1, 0 from revisions v join tracks k on k.take_id = v.grows;

-- what happened in a take, each as it was last told; body is a scene, a mark or a note, empty when it was taken back
create table entries (
  take_id uuid not null references takes on delete cascade,
  id uuid not null,
  version integer not null check (version >= 1),
  kind text not null check (kind in ('scene', 'mark', 'note')),
  at_us bigint not null check (at_us >= 0),
  body jsonb,
  primary key (take_id, id)
);
create index entries_order on entries (take_id, kind, at_us);

-- the camera picture over the screen, as a scene of layers with rectangles in shares of the frame
insert into entries (take_id, id, version, kind, at_us, body)
  select p.take_id, gen_random_uuid(), 1, 'scene', p.at, jsonb_build_object('layers',
           '[{"track": "screen", "rect": {"x": 0, "y": 0, "width": 1, "height": 1}, "shape": "rectangle"}]'::jsonb ||
           case when not p.shown then '[]'::jsonb else jsonb_build_array(jsonb_build_object('track', 'camera',
             'shape', 'arch', 'rect', jsonb_build_object(
               'x', (case when p.corner like '%left' then p.margin else p.w - p.margin - p.width end) / p.w,
               'y', (case when p.corner like 'top%' then p.margin else p.h - p.margin - p.height end) / p.h,
               'width', p.width / p.w, 'height', p.height / p.h))) end)
    from (
      select a.*, least(a.width_wanted, a.w - 2 * a.margin) as width,
             least(least(a.width_wanted, a.w - 2 * a.margin) * 1.15, a.h - 2 * a.margin) as height
        from (
          select t.id as take_id, (e ->> 'at')::bigint as at, e ->> 'corner' as corner, (e ->> 'shown')::boolean as shown,
                 f.w, f.h, least(f.w, f.h) * 0.03 as margin,
                 case e ->> 'size' when 'small' then 0.13 when 'medium' then 0.19 else 0.28 end
                   * least(f.w, f.h) * 16 / 9 as width_wanted
            from takes t
            cross join jsonb_array_elements(t.layout) e
            join tracks k on k.take_id = t.id and k.kind = 'screen'
            cross join lateral (select (k.init ->> 'width')::float8 as w, (k.init ->> 'height')::float8 as h) f
           where t.source = 'screen-camera') a) p;
alter table takes drop column layout;

-- an event of its own: another revision was published
alter table events drop constraint events_kind_check,
  add check (kind in ('comment', 'reaction', 'ask', 'answer', 'viewer', 'revision'));

-- what people edit has versions, so that saving over somebody else's change is told
alter table recordings add column title_version integer not null default 1;
alter table comments add column version integer not null default 1;
alter table asks add column edit bigint not null default nextval('ask_versions');
`;
