import { maySql } from "#core/access/access-sql";
import type { Show } from "#core/answers/shows";
import { FIRST_WISHES } from "#core/notices/wishes";
import { isoOf } from "../database/moments";

/**
 * Where the ask of recording `r` stands. `offset 0`: for the rows of a page one by one; the planner would reckon it for
 * all asks that there are, and join these (ten times as long for 10,000 recordings).
 */
export const ASK_STANDING = "lateral (select * from ask_standings where recording_id = r.id offset 0)";

/** The account or the guest behind a viewer `v`: `m.name` or `g.name`. */
export const VIEWER_NAMES = "left join people m on m.id = v.person_id left join guests g on g.id = v.guest_id";

// Comments: `c` is the comment, `v` its viewer, `o` the recording.

const COMMENT_AUTHOR = "coalesce(c.imported_from, m.name, g.name, 'Guest')";
const COMMENT_TABLES = `comments c join recordings o on o.id = c.recording_id
  join viewers v on v.id = c.viewer_id ${VIEWER_NAMES}`;
const SHOWN_COMMENTS = /* sql */ `
select c.id, c.reply_to as "replyTo", c.viewer_id as author, ${COMMENT_AUTHOR} as name,
       case when c.imported_from is null then f.digest end as portrait,
       v.person_id is null and c.imported_from is null as guest,
       v.person_id is not distinct from o.owner_id as "bySender",
       case when c.removed_at is null then c.body end as body, c.at_us as at, c.until_us as until,
       to_char(c.created_at at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as "createdAt",
       c.edited_at is not null as edited, c.version, c.resolved_at is not null as settled,
       (select count(*)::int from comments r where r.reply_to = c.id) as replies
  from ${COMMENT_TABLES} left join portraits f on f.person_id = v.person_id`;

/** The first $2 comments of recording $1 in order of time. */
export const COMMENTS = /* sql */ `
${SHOWN_COMMENTS} where c.recording_id = $1 order by c.at_us, c.created_at limit $2`;

const CURSOR = `floor(extract(epoch from created_at) * 1000000)::bigint || '.' || id`;

/**
 * The newest $2 comments of recording $1 that were written before moment $3 (us since 1970), or then and before id $4,
 * with what begins their threads; in order of time. `place`: counted from the newest, 0 for what only begins one.
 */
export const COMMENTS_BEFORE = /* sql */ `
with newest as (
  select id, reply_to, ${CURSOR} as cursor, row_number() over (order by created_at desc, id desc)::int as place
    from comments
   where recording_id = $1
     and ($3::bigint is null or (created_at, id) < (to_timestamp(0) + $3::bigint * interval '1 microsecond', $4::uuid))
   order by created_at desc, id desc limit $2),
wanted as (
  select id, cursor, place from newest
  union all
  select distinct n.reply_to, null, 0 from newest n
   where n.reply_to is not null and n.reply_to not in (select id from newest))
select w.place, w.cursor, shown.* from wanted w join lateral (${SHOWN_COMMENTS} where c.id = w.id) shown on true
 order by shown.at, shown."createdAt"`;

/** Threads of recording $1 that begin nearest to moment $2 of the source line, $3 on each side, and their replies. */
export const COMMENTS_AROUND = /* sql */ `
with near as (
  (select id from comments where recording_id = $1 and reply_to is null and at_us >= $2 order by at_us limit $3)
  union all
  (select id from comments where recording_id = $1 and reply_to is null and at_us < $2 order by at_us desc limit $3)),
wanted as (
  select id from near
  union all
  select r.id from near n join lateral (
    select id from comments c where c.reply_to = n.id order by c.created_at desc limit $4) r on true)
${SHOWN_COMMENTS} where c.id in (select id from wanted) order by c.at_us, c.created_at`;

/** The newest $3 comments of thread $2 of recording $1, and what begins it. */
export const COMMENTS_OF_THREAD = /* sql */ `
with wanted as (
  select id from comments where recording_id = $1 and id = $2
  union all
  (select id from comments where recording_id = $1 and reply_to = $2 order by created_at desc limit $3))
${SHOWN_COMMENTS} where c.id in (select id from wanted) order by c.at_us, c.created_at`;

/** How many threads recording $1 has. */
export const THREADS = /* sql */ `
select count(*)::int as count from comments where recording_id = $1 and reply_to is null`;

/** Where threads of recording $1 begin on the source line, counted over stretches of $2 us. */
export const THREADS_ALONG = /* sql */ `
select (at_us / $2::bigint) * $2::bigint as at, count(*)::int as count
  from comments where recording_id = $1 and reply_to is null group by 1 order by 1`;

/** Whose comment $4 is, where it is there; how much viewer $2 has written at recording $1, and all, up to $3 each. */
export const COMMENTS_WRITTEN = /* sql */ `
select (select json_build_object('viewer', viewer_id, 'recording', recording_id) from comments where id = $4) as there,
       (select count(*)::int from (select from comments where viewer_id = $2 limit $3) own) as own,
       (select count(*)::int from (select from comments where recording_id = $1 limit $3) every) as every`;

/** Comments $1, by their ids. */
export const COMMENTS_BY_ID = /* sql */ `${SHOWN_COMMENTS} where c.id = any($1::uuid[])`;

/** All that has words at recording $1, in order of time. */
export const COMMENTS_IN_FULL = /* sql */ `
select c.id, c.reply_to as "replyTo", ${COMMENT_AUTHOR} as author, c.body, c.at_us as at, c.until_us as until,
       c.created_at as "createdAt", c.edited_at as "editedAt"
  from ${COMMENT_TABLES} where c.recording_id = $1 and c.removed_at is null order by c.at_us, c.created_at`;

/** Comments of recording $1, brought in by viewer $2: ids $3, replies under $4, words $5, authors $6, from $7 to $8. */
export const BRING_IN_COMMENTS = /* sql */ `
insert into comments (id, recording_id, viewer_id, reply_to, body, imported_from, at_us, until_us)
select n.id, $1, $2, n.under, n.body, n.author, n.at, n.until
  from unnest($3::uuid[], $4::uuid[], $5::text[], $6::text[], $7::bigint[], $8::bigint[])
       as n(id, under, body, author, at, until) order by n.under nulls first returning id`;

// Reactions

const SHOWN_REACTIONS = /* sql */ `
select x.id, x.kind, x.at_us as at, x.viewer_id as author, case when v.named then coalesce(m.name, g.name) end as name
  from reactions x join viewers v on v.id = x.viewer_id ${VIEWER_NAMES}`;

/** The newest $2 reactions of recording $1, in order of time. */
export const REACTIONS = /* sql */ `
select * from (${SHOWN_REACTIONS} where x.recording_id = $1 order by x.created_at desc, x.id desc limit $2) newest
 order by at, id`;

/** All but the newest $3 reactions of recording $1, counted by kind over stretches of $2 us of the source line. */
export const REACTIONS_ALONG = /* sql */ `
select kind, (at_us / $2::bigint) * $2::bigint as at, count(*)::int as count
  from (select kind, at_us from reactions where recording_id = $1 order by created_at desc, id desc offset $3) older
 group by 1, 2 order by 2, 1`;

/** How many reactions are of viewer $2, and how many recording $1 has in all, each counted up to $3. */
export const REACTIONS_MADE = /* sql */ `
select (select count(*)::int from (select from reactions where viewer_id = $2 limit $3) own) as own,
       (select count(*)::int from (select from reactions where recording_id = $1 limit $3) every) as every`;

/** Reactions $1, by their ids. */
export const REACTIONS_BY_ID = /* sql */ `${SHOWN_REACTIONS} where x.id = any($1::uuid[])`;

// Asks and answers

/** What is asked of recording $1. */
export const ASK = /* sql */ `
select a.kind, a.question, a.choices, to_char(a.due, 'YYYY-MM-DD') as due,
       extract(epoch from a.due_ends)::float8 * 1000 as "dueEnds", a.closed, a.version, a.edit, a.reminds
  from asks a where a.recording_id = $1`;

/** The same of ask `a` as one JSON value; null where nothing is asked. */
const ASK_JSON = `case when a.recording_id is not null then json_build_object(
  'kind', a.kind, 'question', a.question, 'choices', a.choices, 'due', to_char(a.due, 'YYYY-MM-DD'),
  'dueEnds', extract(epoch from a.due_ends)::float8 * 1000, 'closed', a.closed, 'version', a.version,
  'edit', a.edit, 'reminds', a.reminds) end`;

/**
 * Asks of recording $1: kind $2, question $3, choices $4, needed by day $5, which ends at $6, reminded of or
 * not ($7). Another day is the same ask; another question or other choices are not. Of another day people are reminded
 * anew.
 */
export const PUT_ASK = /* sql */ `
insert into asks as a (recording_id, kind, question, choices, due, due_ends, reminds)
values ($1, $2, $3, $4, $5::date, $6::timestamptz, $7 and $5::date is not null)
on conflict (recording_id) do update
   set kind = excluded.kind, question = excluded.question, choices = excluded.choices, due = excluded.due,
       due_ends = excluded.due_ends, reminds = excluded.reminds, closed = false,
       reminded_at = case when a.due_ends = excluded.due_ends then a.reminded_at end, edit = nextval('ask_versions'),
       version = case when (a.kind, a.question, a.choices) = (excluded.kind, excluded.question, excluded.choices)
                      then a.version else nextval('ask_versions') end
returning recording_id`;

/** Closes what is asked of recording $1, or opens it again. */
export const CLOSE_ASK = /* sql */ `
update asks set closed = $2, edit = nextval('ask_versions') where recording_id = $1 returning recording_id`;

/** At recording $2 viewer $3 answers $4 to version $5 of what is asked; $1 is the id of a first answer. */
export const PUT_ANSWER = /* sql */ `
insert into answers (id, recording_id, viewer_id, answer, ask_version) values ($1, $2, $3, $4, $5)
on conflict (viewer_id) do update
   set answer = excluded.answer, ask_version = excluded.ask_version, answered_at = now() returning id`;

// Viewers and whom a sender asks

/** The number of the sender's own row; the figures leave out what is below 0. */
export const SENDER_NUMBER = -1;

/**
 * A visit to recording $2 by person $3 or guest $5, asked as invite $6, to be named or not ($7); $4 is the sender, $1
 * the id of a first visit.
 * @param by which of the two it is
 */
export const visit = (by: "person" | "guest") => /* sql */ `
insert into viewers as v (id, recording_id, number, person_id, guest_id, invite_id, named)
select $1, $2, case when $3::uuid = $4::uuid
    then (select least(min(number), 0) + ${SENDER_NUMBER} from viewers where recording_id = $2)
    else (select greatest(max(number), -1) + 1 from viewers where recording_id = $2) end, $3, $5, $6, $7
on conflict (recording_id, ${by}_id) do update
   set last_opened_at = now(), invite_id = coalesce(v.invite_id, excluded.invite_id), named = excluded.named
returning xmax = 0 as "isNew"`;

/** The guest whose key is $2; made by id $1 where there is none yet. Several pages of one browser come at once. */
export const MEET_GUEST = /* sql */ `
insert into guests (id, key) values ($1, $2)
on conflict (key) do update set key = excluded.key returning id, xmax = 0 as "isNew"`;

/** Who has opened recording $1: the person or the guest's key $2. */
export const viewer = (by: "person" | "guest") => /* sql */ `
select v.id, v.number, v.named, g.name as "guestName" from viewers v left join guests g on g.id = v.guest_id
 where v.recording_id = $1 and ${by === "person" ? "v.person_id = $2" : "g.key = $2"}`;

/** How person $3, or whoever has the personal link $2 or shows one of passes $4, is asked at recording $1. */
export const INVITE_OF = /* sql */ `
select id from invites where recording_id = $1 and (key = $2 or person_id = $3 or pass = any($4::uuid[]))
 order by (key = $2) desc, (pass = any($4::uuid[])) desc limit 1`;

/** Guest $1, who has given no name, is called as whoever has the personal link of a folder of which pass $2 is. */
export const NAME_BY_FOLDER = /* sql */ `
update guests g set name = p.name from folder_people p
 where g.id = $1 and g.name is null and p.pass = $2 returning g.id`;

/** Guest $1, who has given no name, is called as they were named in invite $2. */
export const NAME_BY_INVITE = /* sql */ `
update guests g set name = i.name from invites i where g.id = $1 and g.name is null and i.id = $2 returning g.id`;

/**
 * Asks people at recording $1: ids $2, names $3, addresses $4, keys of their links $5. A colleague of that address is
 * known when they are signed in. Who is asked already stays asked as they are.
 */
export const ADD_INVITES = /* sql */ `
insert into invites (id, recording_id, name, email, key, person_id)
select i.id, r.id, coalesce(m.name, i.name), i.email, i.key, m.id
  from unnest($2::uuid[], $3::text[], $4::text[], $5::text[]) as i(id, name, email, key)
  join recordings r on r.id = $1
  left join lateral (
    select m.id, m.name from people m join members b on b.person_id = m.id and b.workspace_id = r.workspace_id
     where m.email = i.email and m.id <> r.owner_id limit 1) m on true
 where not exists (
   select 1 from invites o
    where o.recording_id = r.id
      and (o.email = i.email or o.person_id = m.id or (o.email is null and i.email is null and o.name = i.name)))
returning id, person_id as "personId"`;

/** Members of workspace $1 who are called as one of $2, in small letters. */
export const NAMESAKES = /* sql */ `
select p.name, p.email from members m join people p on p.id = m.person_id
 where m.workspace_id = $1 and lower(p.name) = any($2::text[]) limit 1`;

/** Whoever of those asked by invites $2 has come to recording $1 already is taken as asked. */
export const CAME_BEFORE = /* sql */ `
update viewers v set invite_id = i.id from invites i
 where i.id = any($2::uuid[]) and v.recording_id = $1 and v.person_id = i.person_id and v.invite_id is null
returning v.id`;

const PEOPLE = /* sql */ `
select v.id, v.number, v.invite_id as "inviteId", coalesce(m.name, g.name) as name, v.person_id is not null as member,
       f.digest as portrait, v.named, a.answer, a.ask_version as version, a.answered_at as "answeredAt",
       v.first_opened_at as "firstOpenedAt", v.last_opened_at as "lastOpenedAt"
  from viewers v ${VIEWER_NAMES} left join answers a on a.viewer_id = v.id
  left join portraits f on f.person_id = v.person_id
 where v.recording_id = $1 and v.number >= 0`;

/** Who is named at recording $1, in the order in which they were. */
export const INVITED = /* sql */ `
select i.id, i.name, i.email, i.key, i.mailed_at as "mailedAt", i.bounced, f.digest as portrait
  from invites i left join portraits f on f.person_id = i.person_id
 where i.recording_id = $1 order by i.created_at, i.id`;

/** Of recording $1, the first $2 of those who were asked or have answered; the latest first. */
export const KNOWN_PEOPLE = /* sql */ `
${PEOPLE} and v.id in (
    select w.id from invites i join viewers w on w.invite_id = i.id where i.recording_id = $1
    union select viewer_id from answers where recording_id = $1)
 order by v.last_opened_at desc limit $2`;

/** Of recording $1, those who came by themselves and may be named: $2 of them after the first $3, the latest first. */
export const LOOSE_PEOPLE = /* sql */ `
${PEOPLE} and v.invite_id is null and not exists (select 1 from answers o where o.viewer_id = v.id) and v.named
 order by v.last_opened_at desc, v.number limit $2 offset $3`;

/**
 * Of recording $1: how many have come, and those who are not simply somebody who came by themselves: who was asked, who
 * has answered, and who asked not to be named, by their rows in the figures. The others may be thousands.
 */
export const COME = /* sql */ `
select (select count(*)::int from viewers where recording_id = $1 and number >= 0) as total,
       coalesce(json_agg(v.number) filter (where k.known), '[]') as known,
       coalesce(json_agg(v.number) filter (where not v.named and not k.answered), '[]') as unnamed
  from (
    select id, bool_or(known) as known, bool_or(answered) as answered
      from (
        select w.id, true as known, false as answered
          from invites i join viewers w on w.invite_id = i.id where i.recording_id = $1
        union all select viewer_id, true, true from answers where recording_id = $1
        union all select id, false, false from viewers where recording_id = $1 and not named) each
     group by id) k
  join viewers v on v.id = k.id
 where v.number >= 0`;

// What waits for person $1, of what they may open.

const OPEN_TO_MEMBER = maySql("watch", {
  person: "$1",
  workspaces: "array(select workspace_id from members where person_id = $1)",
});

/** What is asked of `r` by `a` is open, and they have not answered what is asked now. */
const OWES = `not a.closed and not exists (
     select 1 from viewers w join answers y on y.viewer_id = w.id
      where w.recording_id = r.id and w.person_id = $1 and y.ask_version = a.version)`;

/** What is asked of them and waits for an answer to what is asked now. */
const OWED_TABLES = /* sql */ `
  from invites i
  join recordings r on r.id = i.recording_id
  join asks a on a.recording_id = r.id
  join people o on o.id = r.owner_id
  left join inbox b on b.person_id = $1 and b.subject = i.id
 where i.person_id = $1 and ${OPEN_TO_MEMBER} and ${OWES}`;

/** The first $2 of what they owe, by the day on which it is needed. */
export const OWED = /* sql */ `
select i.id as subject, 'owed' as kind, r.token, r.title, r.poster_key is not null as "hasPoster",
       o.name as who, false as guest, a.question as words, null as at, null as answer, ${ASK_JSON} as ask,
       i.created_at as "when", null as thread, b.read_at is null as unread
  ${OWED_TABLES} order by a.due_ends nulls last, i.created_at limit $2`;

/** What they do not want to see in the Answers place. */
const HIDDEN = `coalesce((select hidden from notice_wishes where person_id = $1),
                         '{${FIRST_WISHES.hidden.join(",")}}')`;
const SEEN = `b.person_id = $1 and b.kind <> 'owed' and b.kind <> all(${HIDDEN}) and ${OPEN_TO_MEMBER}`;

/** How much waits that is new, of what is said at most $2. */
export const UNREAD = /* sql */ `
select ((select count(*) from (
           select 1 from inbox b join recordings r on r.id = b.recording_id
            where ${SEEN} and b.read_at is null limit $2) said)
      + (select count(*) ${OWED_TABLES} and b.read_at is null))::int as count`;

/** Of what is said, which is shown. The question marks are looked for more closely afterwards. */
const SAID_WHERE: Record<Exclude<Show, "owed">, string> = {
  all: "true",
  unread: "b.read_at is null",
  unclear: "b.kind = 'not-clear'",
  questions: "b.kind = 'comment' and c.body ~ '[?？؟]'",
};

/** Something in the inbox, with the recipe of what its recording shows. */
const SAID = /* sql */ `
select b.subject, r.token, r.title, r.poster_key is not null as "hasPoster", b.kind,
       case when b.kind in ('folder', 'owed') then o.name
            when v.named or x.id is null then coalesce(c.imported_from, m.name, g.name) end as who,
       v.id is not null and v.person_id is null and c.imported_from is null as guest,
       case when c.id is not null then c.body
            when b.kind = 'reaction' then x.kind
            when b.kind = 'folder' then coalesce(f.name, '')
            when b.kind = 'owed' then coalesce(a.question, '')
            when b.kind = 'trouble' then coalesce(u.problem, '')
            when b.kind = 'unused' then coalesce(${isoOf("r.goes_at")}, '')
            when n.id is null then ''
            when n.ask_version is distinct from a.version then 'An answer to what you asked before.'
            else coalesce(n.answer ->> 'words', '') end as words,
       coalesce(c.at_us, x.at_us, (n.answer ->> 'at')::bigint) as at, s.recipe,
       case when n.ask_version = a.version then n.answer end as answer, ${ASK_JSON} as ask,
       b.at as "when", b.at::text as position, b.read_at is null as unread,
       coalesce(c.reply_to, c.id) as thread
  from inbox b
  join recordings r on r.id = b.recording_id
  join people o on o.id = r.owner_id
  left join comments c on b.kind in ('comment', 'reply') and c.id = b.subject
  left join answers n on b.kind in ('answer', 'not-clear') and n.id = b.subject
  left join reactions x on b.kind in ('reaction', 'not-clear') and x.id = b.subject
  left join viewers v
    on v.id = coalesce(c.viewer_id, n.viewer_id, x.viewer_id, case b.kind when 'view' then b.subject end)
  ${VIEWER_NAMES}
  left join folders f on b.kind = 'folder' and f.id = r.folder_id
  left join publications u on b.kind = 'trouble' and u.recording_id = r.id and u.id = b.subject
  left join asks a on a.recording_id = r.id
  join lateral (select recipe from revisions where recording_id = r.id order by number desc limit 1) s on true`;

/**
 * $2 of what others said, the newest first.
 * @param after does it go on after moment $3 and subject $4?
 */
export const said = (show: Exclude<Show, "owed">, after: boolean) => /* sql */ `
${SAID}
 where ${SEEN} and ${SAID_WHERE[show]}
   ${after ? "and (b.at, b.subject) < ($3::timestamptz, $4::uuid)" : ""}
 order by b.at desc, b.subject desc limit $2`;

/**
 * Of what came, subjects $2, the oldest first, as far as they may still see it, and it is still asked.
 * $3: also what was read?
 */
export const SAID_OF = /* sql */ `
${SAID}
 where b.person_id = $1 and b.subject = any($2::uuid[]) and (b.read_at is null or $3) and ${OPEN_TO_MEMBER}
   and (b.kind <> 'owed' or (${OWES}))
 order by b.at, b.subject`;
