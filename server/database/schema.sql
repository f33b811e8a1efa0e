CREATE FUNCTION public.answer_said() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  perform put_in_inbox(owner_id, new.id, case new.answer ->> 'kind' when 'not-clear' then 'not-clear' else 'answer' end,
                       new.recording_id, new.answered_at)
     from recordings where id = new.recording_id and owner_id is distinct from person_of(new.viewer_id);
  return null;
end $$;

CREATE FUNCTION public.comment_said() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
declare
  author uuid := person_of(new.viewer_id);
  owner uuid := (select owner_id from recordings where id = new.recording_id);
  moment timestamptz := greatest(new.created_at, new.edited_at);
begin
  if new.removed_at is not null then
    delete from inbox where subject = new.id;
    return null;
  end if;
  if tg_op = 'UPDATE' and new.body = old.body then return null; end if;
  if owner is distinct from author then
    perform put_in_inbox(owner, new.id, 'comment', new.recording_id, moment);
  end if;
  if new.reply_to is not null then
    perform put_in_inbox(person_id, new.id, 'reply', new.recording_id, moment) from (
      select distinct v.person_id from comments o join viewers v on v.id = o.viewer_id
       where (o.id = new.reply_to or o.reply_to = new.reply_to) and v.person_id is not null
         and v.person_id is distinct from author and v.person_id <> owner) thread;
  end if;
  return null;
end $$;

CREATE FUNCTION public.has_arrived() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  if wants(new.owner_id, 'ready') then
    perform put_in_inbox(new.owner_id, new.id, 'ready', new.id, now());
  end if;
  return null;
end $$;

CREATE FUNCTION public.invite_made() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  perform put_in_inbox(new.person_id, new.id, 'owed', new.recording_id, new.created_at);
  return null;
end $$;

CREATE FUNCTION public.let_stay() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  delete from inbox where subject = new.id and kind = 'unused';
  return null;
end $$;

CREATE FUNCTION public.note_arrival() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  new.arrived_at := greatest(now(), new.opens_at);
  return new;
end $$;

CREATE FUNCTION public.owed_changed() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  perform refresh_owed(case when tg_op = 'DELETE' then old.recording_id else new.recording_id end);
  return null;
end $$;

CREATE FUNCTION public.owed_of_itself_changed() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  perform refresh_owed(new.id);
  return null;
end $$;

CREATE FUNCTION public.person_of(viewer uuid) RETURNS uuid
    LANGUAGE sql STABLE
    AS $$ select person_id from viewers where id = viewer $$;

CREATE FUNCTION public.publication_failed() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  perform put_in_inbox(owner_id, new.id, 'trouble', new.recording_id, now())
     from recordings where id = new.recording_id;
  return null;
end $$;

CREATE FUNCTION public.put_in_inbox(person uuid, what uuid, how text, recording uuid, moment timestamp with time zone) RETURNS void
    LANGUAGE sql
    AS $$
  insert into inbox (person_id, subject, kind, recording_id, at, due_at)
  values (person, what, how, recording, moment, now())
  on conflict (person_id, subject) do update
     set at = excluded.at, kind = excluded.kind, read_at = null, due_at = excluded.due_at
$$;

CREATE FUNCTION public.reaction_said() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  perform put_in_inbox(owner_id, new.id, case new.kind when 'not-clear' then 'not-clear' else 'reaction' end,
                       new.recording_id, new.created_at)
     from recordings
    where id = new.recording_id and owner_id is distinct from person_of(new.viewer_id)
      and (new.kind = 'not-clear' or wants(owner_id, 'reaction'));
  return null;
end $$;

CREATE FUNCTION public.refresh_owed(recording uuid) RETURNS void
    LANGUAGE sql
    AS $$
  update recordings r set owed = n.owed from (
    select s.id, case
        when s.duration_us = 0
          or exists (select 1 from takes t where t.recording_id = s.id and t.state <> 'complete') then 'arriving'
        when s.audience = 'owner' then 'draft'
        when a.kind is null then 'nothing'
        when a.closed or (a.asked > 0 and a.answered >= a.asked and a.not_clear = 0) then 'answered'
        else 'waiting' end as owed
      from recordings s left join ask_standings a on a.recording_id = s.id where s.id = recording) n
   where r.id = n.id and r.owed <> n.owed
$$;

CREATE FUNCTION public.taken_back() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  delete from inbox where subject = old.id;
  return null;
end $$;

CREATE FUNCTION public.tell_hooks() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  insert into deliveries (hook_id, subject, at)
  select h.id, new.subject, new.at
    from hooks h join recordings r on r.id = new.recording_id and r.workspace_id = h.workspace_id
   where h.person_id = new.person_id and new.kind = any(h.kinds);
  return null;
end $$;

CREATE FUNCTION public.tell_of_shelved() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
declare
  folder folders := (select f from folders f where f.id = new.folder_id);
  due timestamptz := greatest(now(), new.opens_at);
begin
  insert into inbox (person_id, subject, kind, recording_id, at, due_at)
  select person_id, new.id, 'folder', new.id, now(), due from (
    select p.person_id from folder_people p where p.folder_id = any(folder.path) and p.person_id is not null
     union
    select m.person_id from members m where m.workspace_id = folder.workspace_id and folder.colleagues_here is not null) t
   where person_id <> new.owner_id
  on conflict do nothing;
  insert into folder_news (folder_person_id, recording_id, due_at)
  select distinct on (coalesce(p.email, p.id::text)) p.id, new.id, due
    from folder_people p where p.folder_id = any(folder.path) and p.person_id is null
  on conflict do nothing;
  return null;
end $$;

CREATE FUNCTION public.viewer_came() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  perform put_in_inbox(owner_id, new.id, 'view', new.recording_id, new.first_opened_at)
     from recordings
    where id = new.recording_id and owner_id is distinct from new.person_id and wants(owner_id, 'view');
  return null;
end $$;

CREATE FUNCTION public.wants(person uuid, what text) RETURNS boolean
    LANGUAGE sql STABLE
    AS $$
  select exists (select from notice_wishes w
                  where w.person_id = person and (what <> all(w.hidden) or w.mail ->> what <> 'never'))
$$;

CREATE TABLE public.answers (
    id uuid NOT NULL,
    recording_id uuid NOT NULL,
    viewer_id uuid NOT NULL,
    answer jsonb NOT NULL,
    answered_at timestamp with time zone DEFAULT now() NOT NULL,
    ask_version bigint NOT NULL
);

CREATE SEQUENCE public.ask_versions
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;

CREATE TABLE public.asks (
    recording_id uuid NOT NULL,
    kind text NOT NULL,
    question text DEFAULT ''::text NOT NULL,
    choices jsonb DEFAULT '[]'::jsonb NOT NULL,
    due date,
    closed boolean DEFAULT false NOT NULL,
    version bigint DEFAULT nextval('public.ask_versions'::regclass) NOT NULL,
    due_ends timestamp with time zone,
    edit bigint DEFAULT nextval('public.ask_versions'::regclass) NOT NULL,
    reminds boolean DEFAULT false NOT NULL,
    reminded_at timestamp with time zone,
    CONSTRAINT asks_kind_check CHECK ((kind = ANY (ARRAY['nod'::text, 'choice'::text, 'words'::text])))
);

CREATE TABLE public.invites (
    id uuid NOT NULL,
    recording_id uuid NOT NULL,
    name text NOT NULL,
    email text,
    person_id uuid,
    key text NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    pass uuid DEFAULT gen_random_uuid() NOT NULL,
    mailed_at timestamp with time zone,
    bounced text,
    reminded_at timestamp with time zone,
    CONSTRAINT invites_name_check CHECK ((name <> ''::text))
);

CREATE TABLE public.viewers (
    id uuid NOT NULL,
    recording_id uuid NOT NULL,
    number integer NOT NULL,
    person_id uuid,
    guest_id uuid,
    invite_id uuid,
    named boolean DEFAULT true NOT NULL,
    first_opened_at timestamp with time zone DEFAULT now() NOT NULL,
    last_opened_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT viewers_check CHECK (((person_id IS NULL) <> (guest_id IS NULL)))
);

CREATE VIEW public.ask_standings AS
 SELECT a.recording_id,
    a.kind,
    a.closed,
    i.asked,
    i.answered,
    w.others,
    w.not_clear,
    (((NOT a.closed) AND (a.due_ends <= now()) AND (i.answered < i.asked)) IS TRUE) AS overdue
   FROM ((public.asks a
     CROSS JOIN LATERAL ( SELECT (count(*))::integer AS asked,
            (count(*) FILTER (WHERE (EXISTS ( SELECT 1
                   FROM (public.viewers v
                     JOIN public.answers n ON ((n.viewer_id = v.id)))
                  WHERE ((v.invite_id = i_1.id) AND (n.ask_version = a.version))))))::integer AS answered
           FROM public.invites i_1
          WHERE (i_1.recording_id = a.recording_id)) i)
     CROSS JOIN LATERAL ( SELECT (count(*) FILTER (WHERE (v.invite_id IS NULL)))::integer AS others,
            (count(*) FILTER (WHERE ((n.answer ->> 'kind'::text) = 'not-clear'::text)))::integer AS not_clear
           FROM (public.answers n
             JOIN public.viewers v ON ((v.id = n.viewer_id)))
          WHERE ((n.recording_id = a.recording_id) AND (n.ask_version = a.version))) w);

CREATE TABLE public.challenges (
    hash bytea NOT NULL,
    person_id uuid,
    ends_at timestamp with time zone NOT NULL
);

CREATE TABLE public.codes (
    pass uuid NOT NULL,
    hash bytea NOT NULL,
    ends_at timestamp with time zone NOT NULL,
    tries integer DEFAULT 0 NOT NULL
);

CREATE TABLE public.comments (
    id uuid NOT NULL,
    recording_id uuid NOT NULL,
    viewer_id uuid NOT NULL,
    reply_to uuid,
    body text NOT NULL,
    imported_from text,
    at_us bigint NOT NULL,
    until_us bigint,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    edited_at timestamp with time zone,
    resolved_at timestamp with time zone,
    removed_at timestamp with time zone,
    version integer DEFAULT 1 NOT NULL,
    CONSTRAINT comments_at_us_check CHECK ((at_us >= 0)),
    CONSTRAINT comments_body_check CHECK ((body <> ''::text)),
    CONSTRAINT comments_check CHECK ((until_us > at_us))
);

CREATE TABLE public.deliveries (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    hook_id uuid NOT NULL,
    subject uuid,
    at timestamp with time zone DEFAULT now() NOT NULL,
    tries smallint DEFAULT 0 NOT NULL,
    due_at timestamp with time zone DEFAULT now(),
    tried_at timestamp with time zone,
    status smallint,
    said text
);

CREATE TABLE public.drafts (
    recording_id uuid NOT NULL,
    version integer NOT NULL,
    seen integer NOT NULL,
    history jsonb NOT NULL,
    saved_by uuid,
    saved_at timestamp with time zone DEFAULT now() NOT NULL,
    saved_nth integer DEFAULT 0 NOT NULL
);

CREATE SEQUENCE public.edge_numbers
    AS integer
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;

CREATE TABLE public.edges (
    track_id uuid NOT NULL,
    of_number integer NOT NULL,
    from_tick bigint NOT NULL,
    to_tick bigint NOT NULL,
    number integer NOT NULL,
    silent boolean DEFAULT false NOT NULL,
    CONSTRAINT edges_check CHECK ((to_tick > from_tick)),
    CONSTRAINT edges_number_check CHECK ((number < 0)),
    CONSTRAINT edges_of_number_check CHECK ((of_number >= 1))
);

CREATE TABLE public.emblems (
    workspace_id uuid NOT NULL,
    digest text NOT NULL,
    width integer NOT NULL,
    height integer NOT NULL,
    bytes bytea NOT NULL
);

CREATE TABLE public.entries (
    take_id uuid NOT NULL,
    id uuid NOT NULL,
    version integer NOT NULL,
    kind text NOT NULL,
    at_us bigint NOT NULL,
    body jsonb,
    CONSTRAINT entries_at_us_check CHECK ((at_us >= 0)),
    CONSTRAINT entries_kind_check CHECK ((kind = ANY (ARRAY['scene'::text, 'mark'::text, 'note'::text]))),
    CONSTRAINT entries_version_check CHECK ((version >= 1))
);

CREATE TABLE public.events (
    id bigint NOT NULL,
    recording_id uuid NOT NULL,
    kind text NOT NULL,
    subject uuid,
    sender_only boolean DEFAULT false NOT NULL,
    at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT events_kind_check CHECK ((kind = ANY (ARRAY['comment'::text, 'reaction'::text, 'ask'::text, 'answer'::text, 'viewer'::text, 'revision'::text])))
);

ALTER TABLE public.events ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.events_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.feeds (
    id uuid NOT NULL,
    person_id uuid,
    folder_id uuid NOT NULL,
    key bytea NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    asked_at timestamp with time zone,
    folder_person_id uuid,
    pass uuid,
    CONSTRAINT feeds_whose CHECK ((((person_id IS NULL) = (folder_person_id IS NOT NULL)) AND ((folder_person_id IS NULL) = (pass IS NULL))))
);

CREATE TABLE public.films (
    recording_id uuid NOT NULL,
    id uuid NOT NULL,
    revision integer NOT NULL,
    state text DEFAULT 'waiting'::text NOT NULL,
    done integer DEFAULT 0 NOT NULL,
    wanted integer DEFAULT 0 NOT NULL,
    problem text,
    key text,
    size bigint,
    asked_at timestamp with time zone DEFAULT now() NOT NULL,
    made_at timestamp with time zone,
    words text,
    CONSTRAINT films_check CHECK (((state = 'ready'::text) = (key IS NOT NULL))),
    CONSTRAINT films_state_check CHECK ((state = ANY (ARRAY['waiting'::text, 'ready'::text, 'failed'::text])))
);

CREATE TABLE public.folder_news (
    folder_person_id uuid NOT NULL,
    recording_id uuid NOT NULL,
    at timestamp with time zone DEFAULT now() NOT NULL,
    due_at timestamp with time zone DEFAULT now()
);

CREATE TABLE public.folder_people (
    id uuid NOT NULL,
    folder_id uuid NOT NULL,
    name text NOT NULL,
    email text,
    person_id uuid,
    may text NOT NULL,
    key text NOT NULL,
    pass uuid DEFAULT gen_random_uuid() NOT NULL,
    added_at timestamp with time zone DEFAULT now() NOT NULL,
    mailed_at timestamp with time zone,
    bounced text,
    news text DEFAULT 'now'::text NOT NULL,
    zone text DEFAULT 'UTC'::text NOT NULL,
    told_at timestamp with time zone,
    CONSTRAINT folder_people_may_check CHECK ((may = ANY (ARRAY['view'::text, 'add'::text, 'manage'::text]))),
    CONSTRAINT folder_people_news_check CHECK ((news = ANY (ARRAY['now'::text, 'day'::text, 'week'::text, 'never'::text])))
);

CREATE TABLE public.folders (
    id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    parent_id uuid,
    path uuid[] NOT NULL,
    name text NOT NULL,
    colleagues text,
    colleagues_here text,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT folders_check CHECK ((((cardinality(path) >= 1) AND (cardinality(path) <= 8)) AND (path[cardinality(path)] = id))),
    CONSTRAINT folders_colleagues_check CHECK ((colleagues = ANY (ARRAY['view'::text, 'add'::text]))),
    CONSTRAINT folders_colleagues_here_check CHECK ((colleagues_here = ANY (ARRAY['view'::text, 'add'::text])))
);

CREATE TABLE public.folds (
    recording_id uuid NOT NULL,
    folded bytea NOT NULL,
    through xid8 NOT NULL,
    watched integer NOT NULL,
    finished integer NOT NULL,
    share real NOT NULL,
    strip bytea NOT NULL
);

CREATE TABLE public.functions_in_force (
    digest text NOT NULL,
    names text[] NOT NULL
);

CREATE TABLE public.guests (
    id uuid NOT NULL,
    key bytea NOT NULL,
    name text,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT guests_name_check CHECK ((name <> ''::text))
);

CREATE TABLE public.hooks (
    id uuid NOT NULL,
    person_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    url text NOT NULL,
    kinds text[] NOT NULL,
    secret bytea NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT hooks_kinds_check CHECK (((kinds <@ ARRAY['comment'::text, 'reply'::text, 'answer'::text, 'not-clear'::text]) AND (cardinality(kinds) > 0)))
);

CREATE TABLE public.inbox (
    person_id uuid NOT NULL,
    subject uuid NOT NULL,
    kind text NOT NULL,
    recording_id uuid NOT NULL,
    at timestamp with time zone NOT NULL,
    read_at timestamp with time zone,
    due_at timestamp with time zone,
    CONSTRAINT inbox_kind_check CHECK ((kind = ANY (ARRAY['comment'::text, 'reply'::text, 'not-clear'::text, 'answer'::text, 'reaction'::text, 'view'::text, 'owed'::text, 'folder'::text, 'ready'::text, 'trouble'::text, 'unused'::text])))
);

CREATE TABLE public.join_links (
    id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    role text NOT NULL,
    token text NOT NULL,
    made_by uuid,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    ends_at timestamp with time zone NOT NULL,
    closed_at timestamp with time zone,
    address text,
    CONSTRAINT join_links_role_check CHECK ((role = ANY (ARRAY['owner'::text, 'member'::text])))
);

CREATE TABLE public.looks (
    take_id uuid NOT NULL,
    voice bytea,
    sound bytea,
    measured jsonb DEFAULT '{}'::jsonb NOT NULL,
    pictures jsonb,
    strip bytea,
    changes jsonb
);

CREATE TABLE public.mail_refusals (
    address text NOT NULL,
    refused_at timestamp with time zone DEFAULT now() NOT NULL,
    what text DEFAULT 'sent'::text NOT NULL,
    CONSTRAINT mail_refusals_what_check CHECK ((what = ANY (ARRAY['sent'::text, 'news'::text])))
);

CREATE TABLE public.mails (
    id uuid NOT NULL,
    kind text NOT NULL,
    to_address text NOT NULL,
    to_name text,
    sender jsonb,
    sender_id uuid,
    subject text NOT NULL,
    text text,
    html text,
    recording_id uuid,
    invite_id uuid,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    sent_at timestamp with time zone,
    failed text,
    push jsonb,
    pushed_at timestamp with time zone,
    shown_at timestamp with time zone,
    claimed_at timestamp with time zone
);

CREATE TABLE public.members (
    workspace_id uuid NOT NULL,
    person_id uuid NOT NULL,
    role text NOT NULL,
    joined_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT members_role_check1 CHECK ((role = ANY (ARRAY['owner'::text, 'member'::text])))
);

CREATE TABLE public.migrations (
    name text NOT NULL,
    at timestamp with time zone DEFAULT now() NOT NULL
);

CREATE TABLE public.milestones (
    name text NOT NULL,
    at timestamp with time zone DEFAULT now() NOT NULL
);

CREATE TABLE public.notice_wishes (
    person_id uuid NOT NULL,
    mail jsonb NOT NULL,
    hidden text[] NOT NULL,
    zone text NOT NULL,
    quiet_from smallint,
    quiet_until smallint,
    CONSTRAINT notice_wishes_check CHECK ((((quiet_until >= 0) AND (quiet_until <= 23)) AND (quiet_until <> quiet_from))),
    CONSTRAINT notice_wishes_check1 CHECK (((quiet_from IS NULL) = (quiet_until IS NULL))),
    CONSTRAINT notice_wishes_quiet_from_check CHECK (((quiet_from >= 0) AND (quiet_from <= 23)))
);

CREATE TABLE public.old_links (
    token text NOT NULL,
    recording_id uuid NOT NULL,
    replaced_at timestamp with time zone DEFAULT now() NOT NULL
);

CREATE TABLE public.open_pages (
    id uuid NOT NULL,
    recording_id uuid NOT NULL,
    viewer_id uuid NOT NULL,
    renewed_at timestamp with time zone DEFAULT now() NOT NULL
);

CREATE TABLE public.passkeys (
    id text NOT NULL,
    person_id uuid NOT NULL,
    public_key bytea NOT NULL,
    counter bigint NOT NULL,
    transports text[] NOT NULL,
    name text NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    used_at timestamp with time zone,
    CONSTRAINT passkeys_id_check CHECK (((length(id) >= 1) AND (length(id) <= 1400)))
);

CREATE TABLE public.people (
    id uuid NOT NULL,
    name text NOT NULL,
    email text NOT NULL,
    password_hash text NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    told_at timestamp with time zone,
    proved_at timestamp with time zone,
    CONSTRAINT members_email_check CHECK ((email = lower(email)))
);

CREATE TABLE public.pictures (
    id uuid NOT NULL,
    recording_id uuid NOT NULL,
    width integer NOT NULL,
    height integer NOT NULL,
    bytes bytea NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL
);

CREATE TABLE public.pieces (
    revision_id uuid NOT NULL,
    track text NOT NULL,
    n integer NOT NULL,
    track_id uuid NOT NULL,
    first integer NOT NULL,
    last integer,
    moved_us bigint NOT NULL,
    stretch integer NOT NULL,
    CONSTRAINT pieces_check CHECK ((last >= first)),
    CONSTRAINT pieces_first_check CHECK ((first <> 0))
);

CREATE TABLE public.places (
    id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    kind text NOT NULL,
    name text NOT NULL,
    address text NOT NULL,
    account text DEFAULT ''::text NOT NULL,
    secret bytea NOT NULL,
    "position" integer NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT places_kind_check CHECK ((kind = ANY (ARRAY['webdav'::text, 'channel'::text])))
);

CREATE TABLE public.portraits (
    person_id uuid NOT NULL,
    digest text NOT NULL,
    bytes bytea NOT NULL
);

CREATE TABLE public.programs (
    id uuid NOT NULL,
    person_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    name text NOT NULL,
    scopes text[] NOT NULL,
    secret bytea NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    last_at timestamp with time zone,
    ends_at timestamp with time zone,
    CONSTRAINT programs_scopes_check CHECK (((scopes <@ ARRAY['read'::text, 'answers'::text, 'change'::text, 'share'::text]) AND (cardinality(scopes) > 0)))
);

CREATE TABLE public.proofs (
    person_id uuid NOT NULL,
    kind text NOT NULL,
    hash bytea NOT NULL,
    address text,
    ends_at timestamp with time zone NOT NULL,
    CONSTRAINT proofs_kind_check CHECK ((kind = ANY (ARRAY['reset'::text, 'address'::text, 'undo'::text])))
);

CREATE TABLE public.publications (
    recording_id uuid NOT NULL,
    id uuid NOT NULL,
    seen integer NOT NULL,
    state text NOT NULL,
    done integer DEFAULT 0 NOT NULL,
    wanted integer DEFAULT 0 NOT NULL,
    problem text,
    asked_at timestamp with time zone DEFAULT now() NOT NULL,
    recipe jsonb NOT NULL,
    by_itself boolean DEFAULT false NOT NULL,
    CONSTRAINT publications_state_check CHECK ((state = ANY (ARRAY['waiting'::text, 'published'::text, 'failed'::text])))
);

CREATE TABLE public.reactions (
    id uuid NOT NULL,
    recording_id uuid NOT NULL,
    viewer_id uuid NOT NULL,
    kind text NOT NULL,
    at_us bigint NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT reactions_at_us_check CHECK ((at_us >= 0)),
    CONSTRAINT reactions_kind_check CHECK ((kind = ANY (ARRAY['got-it'::text, 'not-clear'::text, 'good-point'::text, 'smile'::text, 'thanks'::text])))
);

CREATE TABLE public.recordings (
    id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    owner_id uuid NOT NULL,
    title text NOT NULL,
    token text NOT NULL,
    audience text DEFAULT 'owner'::text NOT NULL,
    poster_key text,
    duration_us bigint DEFAULT 0 NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    deleted_at timestamp with time zone,
    chapters jsonb DEFAULT '[]'::jsonb NOT NULL,
    captions jsonb DEFAULT '[]'::jsonb NOT NULL,
    owed text DEFAULT 'arriving'::text NOT NULL,
    title_version integer DEFAULT 1 NOT NULL,
    description text DEFAULT ''::text NOT NULL,
    tags text[] DEFAULT '{}'::text[] NOT NULL,
    poster_at bigint,
    poster_own boolean DEFAULT false NOT NULL,
    opens_at timestamp with time zone,
    ends_at timestamp with time zone,
    password_hash text,
    password_id uuid,
    comments boolean DEFAULT true NOT NULL,
    asks_names boolean DEFAULT true NOT NULL,
    short text,
    folder_id uuid,
    consent_who text DEFAULT ''::text NOT NULL,
    agreed_at timestamp with time zone,
    used_at timestamp with time zone DEFAULT now() NOT NULL,
    spared boolean DEFAULT false NOT NULL,
    goes_at timestamp with time zone,
    downloads boolean DEFAULT false NOT NULL,
    arrived_at timestamp with time zone,
    CONSTRAINT recordings_audience_check CHECK ((audience = ANY (ARRAY['owner'::text, 'named'::text, 'folder'::text, 'workspace'::text, 'anyone'::text]))),
    CONSTRAINT recordings_check CHECK (((password_hash IS NULL) = (password_id IS NULL))),
    CONSTRAINT recordings_check1 CHECK (((agreed_at IS NULL) OR (consent_who <> ''::text))),
    CONSTRAINT recordings_consent_who_check CHECK ((length(consent_who) <= 300)),
    CONSTRAINT recordings_owed_check CHECK ((owed = ANY (ARRAY['arriving'::text, 'waiting'::text, 'answered'::text, 'nothing'::text, 'draft'::text]))),
    CONSTRAINT recordings_title_check CHECK ((title <> ''::text))
);

CREATE TABLE public.removed_members (
    workspace_id uuid NOT NULL,
    person_id uuid NOT NULL,
    at timestamp with time zone DEFAULT now() NOT NULL
);

CREATE TABLE public.revisions (
    id uuid NOT NULL,
    recording_id uuid NOT NULL,
    number integer NOT NULL,
    recipe jsonb NOT NULL,
    published_at timestamp with time zone DEFAULT now() NOT NULL,
    grows uuid,
    grows_from_us bigint DEFAULT 0 NOT NULL,
    closed_us bigint DEFAULT 0 NOT NULL
);

CREATE TABLE public.segments (
    track_id uuid NOT NULL,
    number integer NOT NULL,
    start_us bigint NOT NULL,
    duration_us bigint NOT NULL,
    frames integer NOT NULL,
    size integer NOT NULL,
    digest bytea NOT NULL,
    key text NOT NULL,
    stored_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT segments_duration_us_check CHECK ((duration_us > 0)),
    CONSTRAINT segments_number_check CHECK ((number <> 0))
);

CREATE TABLE public.sendings (
    id uuid NOT NULL,
    recording_id uuid NOT NULL,
    place_id uuid,
    place_name text NOT NULL,
    state text DEFAULT 'waiting'::text NOT NULL,
    done bigint DEFAULT 0 NOT NULL,
    size bigint DEFAULT 0 NOT NULL,
    remote text,
    link text,
    resume text,
    revision integer,
    problem text,
    tries integer DEFAULT 0 NOT NULL,
    asked_at timestamp with time zone DEFAULT now() NOT NULL,
    seen_by text DEFAULT 'people'::text NOT NULL,
    about_version integer DEFAULT 1 NOT NULL,
    told_version integer DEFAULT 0 NOT NULL,
    resume_key text,
    coming integer,
    CONSTRAINT sendings_seen_by_check CHECK ((seen_by = ANY (ARRAY['people'::text, 'link'::text, 'everybody'::text]))),
    CONSTRAINT sendings_state_check CHECK ((state = ANY (ARRAY['waiting'::text, 'sending'::text, 'processing'::text, 'there'::text, 'failed'::text, 'removing'::text])))
);

CREATE TABLE public.sessions (
    id bytea NOT NULL,
    person_id uuid NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    expires_at timestamp with time zone NOT NULL,
    workspace_id uuid,
    last_at timestamp with time zone DEFAULT now() NOT NULL,
    agent text DEFAULT ''::text NOT NULL,
    push jsonb
);

CREATE TABLE public.set_ups (
    id uuid NOT NULL,
    person_id uuid NOT NULL,
    name text NOT NULL,
    wishes jsonb NOT NULL,
    is_first boolean DEFAULT false NOT NULL
);

CREATE TABLE public.sign_in_attempts (
    key character varying(255) NOT NULL,
    points integer DEFAULT 0 NOT NULL,
    expire bigint
);

CREATE TABLE public.spans (
    recording_id uuid NOT NULL,
    viewer_number integer NOT NULL,
    batch uuid NOT NULL,
    n smallint NOT NULL,
    from_us bigint NOT NULL,
    to_us bigint NOT NULL,
    rate real NOT NULL,
    played_at timestamp with time zone DEFAULT now() NOT NULL,
    made xid8 DEFAULT pg_current_xact_id() NOT NULL,
    CONSTRAINT spans_check CHECK ((to_us > from_us)),
    CONSTRAINT spans_from_us_check CHECK ((from_us >= 0))
);

CREATE TABLE public.starts (
    hash bytea NOT NULL,
    email text NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    ends_at timestamp with time zone NOT NULL
);

CREATE TABLE public.takes (
    id uuid NOT NULL,
    recording_id uuid NOT NULL,
    "position" integer NOT NULL,
    source text NOT NULL,
    state text DEFAULT 'recording'::text NOT NULL,
    paused boolean DEFAULT false NOT NULL,
    expected jsonb,
    started_at timestamp with time zone DEFAULT now() NOT NULL,
    heard_at timestamp with time zone DEFAULT now() NOT NULL,
    duration_us bigint,
    bytes bigint,
    discarded boolean DEFAULT false NOT NULL,
    media_of uuid,
    suppressed text,
    discarded_at timestamp with time zone,
    CONSTRAINT takes_discarded CHECK ((discarded = (discarded_at IS NOT NULL))),
    CONSTRAINT takes_source_check CHECK ((source = ANY (ARRAY['screen-camera'::text, 'screen'::text, 'camera'::text, 'voice'::text]))),
    CONSTRAINT takes_state_check CHECK ((state = ANY (ARRAY['recording'::text, 'uploading'::text, 'complete'::text]))),
    CONSTRAINT takes_suppressed_check CHECK ((suppressed = ANY (ARRAY['wanted'::text, 'made'::text, 'failed'::text])))
);

CREATE TABLE public.tracks (
    id uuid NOT NULL,
    take_id uuid NOT NULL,
    kind text NOT NULL,
    init_key text NOT NULL,
    init_digest bytea NOT NULL,
    init jsonb NOT NULL,
    name text NOT NULL,
    CONSTRAINT tracks_kind_check CHECK ((kind = ANY (ARRAY['screen'::text, 'camera'::text, 'microphone'::text, 'sound'::text])))
);

CREATE TABLE public.workspaces (
    id uuid NOT NULL,
    name text NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    longest_take_us bigint,
    storage_bytes bigint,
    outside text DEFAULT 'everybody'::text NOT NULL,
    sites text[] DEFAULT '{}'::text[] NOT NULL,
    accent text,
    bar text,
    unused_days integer,
    CONSTRAINT workspaces_accent_check CHECK ((accent ~ '^#[\da-f]{6}$'::text)),
    CONSTRAINT workspaces_bar_check CHECK ((bar ~ '^#[\da-f]{6}$'::text)),
    CONSTRAINT workspaces_longest_take_us_check CHECK ((longest_take_us > 0)),
    CONSTRAINT workspaces_outside_check CHECK ((outside = ANY (ARRAY['everybody'::text, 'owners'::text]))),
    CONSTRAINT workspaces_sites_check CHECK ((cardinality(sites) <= 50)),
    CONSTRAINT workspaces_storage_bytes_check CHECK ((storage_bytes >= 0)),
    CONSTRAINT workspaces_unused_days_check CHECK (((unused_days >= 30) AND (unused_days <= 3650)))
);

ALTER TABLE ONLY public.answers
    ADD CONSTRAINT answers_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.answers
    ADD CONSTRAINT answers_viewer_id_key UNIQUE (viewer_id);

ALTER TABLE ONLY public.asks
    ADD CONSTRAINT asks_pkey PRIMARY KEY (recording_id);

ALTER TABLE ONLY public.challenges
    ADD CONSTRAINT challenges_pkey PRIMARY KEY (hash);

ALTER TABLE ONLY public.codes
    ADD CONSTRAINT codes_pkey PRIMARY KEY (pass);

ALTER TABLE ONLY public.comments
    ADD CONSTRAINT comments_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.deliveries
    ADD CONSTRAINT deliveries_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.drafts
    ADD CONSTRAINT drafts_pkey PRIMARY KEY (recording_id);

ALTER TABLE ONLY public.edges
    ADD CONSTRAINT edges_pkey PRIMARY KEY (track_id, of_number, from_tick, to_tick, silent);

ALTER TABLE ONLY public.emblems
    ADD CONSTRAINT emblems_pkey PRIMARY KEY (workspace_id);

ALTER TABLE ONLY public.entries
    ADD CONSTRAINT entries_pkey PRIMARY KEY (take_id, id);

ALTER TABLE ONLY public.events
    ADD CONSTRAINT events_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.feeds
    ADD CONSTRAINT feeds_key_key UNIQUE (key);

ALTER TABLE ONLY public.feeds
    ADD CONSTRAINT feeds_of_clients UNIQUE (folder_person_id, folder_id);

ALTER TABLE ONLY public.feeds
    ADD CONSTRAINT feeds_person_id_folder_id_key UNIQUE (person_id, folder_id);

ALTER TABLE ONLY public.feeds
    ADD CONSTRAINT feeds_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.films
    ADD CONSTRAINT films_id_key UNIQUE (id);

ALTER TABLE ONLY public.films
    ADD CONSTRAINT films_pkey PRIMARY KEY (recording_id);

ALTER TABLE ONLY public.folder_news
    ADD CONSTRAINT folder_news_pkey PRIMARY KEY (folder_person_id, recording_id);

ALTER TABLE ONLY public.folder_people
    ADD CONSTRAINT folder_people_key_key UNIQUE (key);

ALTER TABLE ONLY public.folder_people
    ADD CONSTRAINT folder_people_pass_key UNIQUE (pass);

ALTER TABLE ONLY public.folder_people
    ADD CONSTRAINT folder_people_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.folders
    ADD CONSTRAINT folders_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.folds
    ADD CONSTRAINT folds_pkey PRIMARY KEY (recording_id);

ALTER TABLE ONLY public.functions_in_force
    ADD CONSTRAINT functions_in_force_pkey PRIMARY KEY (digest);

ALTER TABLE ONLY public.guests
    ADD CONSTRAINT guests_key_key UNIQUE (key);

ALTER TABLE ONLY public.guests
    ADD CONSTRAINT guests_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.hooks
    ADD CONSTRAINT hooks_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.inbox
    ADD CONSTRAINT inbox_pkey PRIMARY KEY (person_id, subject);

ALTER TABLE ONLY public.invites
    ADD CONSTRAINT invites_key_key UNIQUE (key);

ALTER TABLE ONLY public.invites
    ADD CONSTRAINT invites_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.join_links
    ADD CONSTRAINT join_links_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.join_links
    ADD CONSTRAINT join_links_token_key UNIQUE (token);

ALTER TABLE ONLY public.looks
    ADD CONSTRAINT looks_pkey PRIMARY KEY (take_id);

ALTER TABLE ONLY public.mail_refusals
    ADD CONSTRAINT mail_refusals_pkey PRIMARY KEY (address, what);

ALTER TABLE ONLY public.mails
    ADD CONSTRAINT mails_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.milestones
    ADD CONSTRAINT marks_pkey PRIMARY KEY (name);

ALTER TABLE ONLY public.people
    ADD CONSTRAINT members_email_key UNIQUE (email);

ALTER TABLE ONLY public.people
    ADD CONSTRAINT members_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.members
    ADD CONSTRAINT members_pkey1 PRIMARY KEY (workspace_id, person_id);

ALTER TABLE ONLY public.migrations
    ADD CONSTRAINT migrations_pkey PRIMARY KEY (name);

ALTER TABLE ONLY public.notice_wishes
    ADD CONSTRAINT notice_wishes_pkey PRIMARY KEY (person_id);

ALTER TABLE ONLY public.old_links
    ADD CONSTRAINT old_links_pkey PRIMARY KEY (token);

ALTER TABLE ONLY public.open_pages
    ADD CONSTRAINT open_pages_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.passkeys
    ADD CONSTRAINT passkeys_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.pictures
    ADD CONSTRAINT pictures_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.pieces
    ADD CONSTRAINT pieces_pkey PRIMARY KEY (revision_id, track, stretch, n);

ALTER TABLE ONLY public.places
    ADD CONSTRAINT places_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.portraits
    ADD CONSTRAINT portraits_pkey PRIMARY KEY (person_id);

ALTER TABLE ONLY public.programs
    ADD CONSTRAINT programs_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.programs
    ADD CONSTRAINT programs_secret_key UNIQUE (secret);

ALTER TABLE ONLY public.proofs
    ADD CONSTRAINT proofs_pkey PRIMARY KEY (hash);

ALTER TABLE ONLY public.publications
    ADD CONSTRAINT publications_pkey PRIMARY KEY (recording_id);

ALTER TABLE ONLY public.reactions
    ADD CONSTRAINT reactions_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.recordings
    ADD CONSTRAINT recordings_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.recordings
    ADD CONSTRAINT recordings_short_key UNIQUE (short);

ALTER TABLE ONLY public.recordings
    ADD CONSTRAINT recordings_token_key UNIQUE (token);

ALTER TABLE ONLY public.removed_members
    ADD CONSTRAINT removed_members_pkey PRIMARY KEY (workspace_id, person_id);

ALTER TABLE ONLY public.revisions
    ADD CONSTRAINT revisions_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.revisions
    ADD CONSTRAINT revisions_recording_id_number_key UNIQUE (recording_id, number);

ALTER TABLE ONLY public.segments
    ADD CONSTRAINT segments_pkey PRIMARY KEY (track_id, number);

ALTER TABLE ONLY public.sendings
    ADD CONSTRAINT sendings_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.sendings
    ADD CONSTRAINT sendings_recording_id_place_id_key UNIQUE (recording_id, place_id);

ALTER TABLE ONLY public.sessions
    ADD CONSTRAINT sessions_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.set_ups
    ADD CONSTRAINT set_ups_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.sign_in_attempts
    ADD CONSTRAINT sign_in_attempts_pkey PRIMARY KEY (key);

ALTER TABLE ONLY public.spans
    ADD CONSTRAINT spans_pkey PRIMARY KEY (recording_id, viewer_number, batch, n);

ALTER TABLE ONLY public.starts
    ADD CONSTRAINT starts_pkey PRIMARY KEY (hash);

ALTER TABLE ONLY public.takes
    ADD CONSTRAINT takes_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.takes
    ADD CONSTRAINT takes_recording_id_position_key UNIQUE (recording_id, "position");

ALTER TABLE ONLY public.tracks
    ADD CONSTRAINT tracks_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.tracks
    ADD CONSTRAINT tracks_take_id_name_key UNIQUE (take_id, name);

ALTER TABLE ONLY public.viewers
    ADD CONSTRAINT viewers_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.viewers
    ADD CONSTRAINT viewers_recording_id_guest_id_key UNIQUE (recording_id, guest_id);

ALTER TABLE ONLY public.viewers
    ADD CONSTRAINT viewers_recording_id_member_id_key UNIQUE (recording_id, person_id);

ALTER TABLE ONLY public.viewers
    ADD CONSTRAINT viewers_recording_id_number_key UNIQUE (recording_id, number);

ALTER TABLE ONLY public.workspaces
    ADD CONSTRAINT workspaces_pkey PRIMARY KEY (id);

CREATE INDEX answers_recording ON public.answers USING btree (recording_id, answered_at DESC);

CREATE INDEX asks_reminding ON public.asks USING btree (due_ends) WHERE (reminds AND (reminded_at IS NULL) AND (NOT closed));

CREATE INDEX challenges_end ON public.challenges USING btree (ends_at);

CREATE INDEX challenges_person ON public.challenges USING btree (person_id);

CREATE INDEX codes_end ON public.codes USING btree (ends_at);

CREATE INDEX comments_begun ON public.comments USING btree (recording_id, at_us) WHERE (reply_to IS NULL);

CREATE INDEX comments_newest ON public.comments USING btree (recording_id, created_at DESC, id DESC);

CREATE INDEX comments_recording ON public.comments USING btree (recording_id, at_us, created_at);

CREATE INDEX comments_thread ON public.comments USING btree (reply_to) WHERE (reply_to IS NOT NULL);

CREATE INDEX comments_viewer ON public.comments USING btree (viewer_id);

CREATE INDEX deliveries_due ON public.deliveries USING btree (due_at) WHERE (due_at IS NOT NULL);

CREATE INDEX deliveries_hook ON public.deliveries USING btree (hook_id, at DESC);

CREATE INDEX emblems_digest ON public.emblems USING btree (digest);

CREATE INDEX entries_order ON public.entries USING btree (take_id, kind, at_us);

CREATE INDEX events_at ON public.events USING btree (at);

CREATE INDEX events_recording ON public.events USING btree (recording_id, id);

CREATE INDEX feeds_folder ON public.feeds USING btree (folder_id);

CREATE INDEX films_asked ON public.films USING btree (asked_at);

CREATE INDEX films_waiting ON public.films USING btree (recording_id) WHERE (state = 'waiting'::text);

CREATE INDEX folder_news_due ON public.folder_news USING btree (due_at) WHERE (due_at IS NOT NULL);

CREATE INDEX folder_news_recording ON public.folder_news USING btree (recording_id);

CREATE UNIQUE INDEX folder_people_address ON public.folder_people USING btree (folder_id, email) WHERE (email IS NOT NULL);

CREATE INDEX folder_people_folder ON public.folder_people USING btree (folder_id, added_at, id);

CREATE UNIQUE INDEX folder_people_once ON public.folder_people USING btree (folder_id, person_id) WHERE (person_id IS NOT NULL);

CREATE INDEX folder_people_person ON public.folder_people USING btree (person_id, folder_id) WHERE (person_id IS NOT NULL);

CREATE INDEX folders_colleagues ON public.folders USING btree (workspace_id) WHERE (colleagues_here IS NOT NULL);

CREATE INDEX folders_name ON public.folders USING btree (workspace_id, lower(name), id);

CREATE INDEX folders_parent ON public.folders USING btree (parent_id, lower(name), id) WHERE (parent_id IS NOT NULL);

CREATE INDEX folders_path ON public.folders USING gin (path);

CREATE INDEX folders_top ON public.folders USING btree (workspace_id, lower(name), id) WHERE (parent_id IS NULL);

CREATE INDEX hooks_person ON public.hooks USING btree (person_id, made_at);

CREATE INDEX hooks_workspace ON public.hooks USING btree (workspace_id);

CREATE INDEX inbox_due ON public.inbox USING btree (due_at) WHERE (due_at IS NOT NULL);

CREATE INDEX inbox_due_of ON public.inbox USING btree (person_id, due_at) WHERE (due_at IS NOT NULL);

CREATE INDEX inbox_newest ON public.inbox USING btree (person_id, at DESC, subject);

CREATE INDEX inbox_recording ON public.inbox USING btree (recording_id);

CREATE INDEX inbox_subject ON public.inbox USING btree (subject);

CREATE INDEX inbox_unread ON public.inbox USING btree (person_id, at DESC) WHERE (read_at IS NULL);

CREATE UNIQUE INDEX invites_address ON public.invites USING btree (recording_id, email) WHERE (email IS NOT NULL);

CREATE INDEX invites_member ON public.invites USING btree (person_id) WHERE (person_id IS NOT NULL);

CREATE INDEX invites_recording ON public.invites USING btree (recording_id, created_at);

CREATE INDEX join_links_workspace ON public.join_links USING btree (workspace_id, made_at DESC);

CREATE INDEX mails_addressee ON public.mails USING btree (to_address, made_at) WHERE (sender_id IS NOT NULL);

CREATE INDEX mails_forgotten ON public.mails USING btree (made_at) WHERE ((sent_at IS NULL) AND (failed IS NULL) AND (text IS NOT NULL));

CREATE INDEX mails_invite ON public.mails USING btree (invite_id) WHERE (invite_id IS NOT NULL);

CREATE INDEX mails_newest ON public.mails USING btree (made_at DESC, id DESC);

CREATE INDEX mails_open ON public.mails USING btree (made_at) WHERE (sent_at IS NULL);

CREATE INDEX mails_recording ON public.mails USING btree (recording_id) WHERE (recording_id IS NOT NULL);

CREATE INDEX mails_sender ON public.mails USING btree (sender_id, made_at) WHERE (sender_id IS NOT NULL);

CREATE INDEX members_person ON public.members USING btree (person_id, joined_at);

CREATE INDEX old_links_recording ON public.old_links USING btree (recording_id);

CREATE INDEX open_pages_recording ON public.open_pages USING btree (recording_id, renewed_at);

CREATE INDEX passkeys_person ON public.passkeys USING btree (person_id, made_at);

CREATE INDEX pictures_of_recording ON public.pictures USING btree (recording_id);

CREATE INDEX pieces_track ON public.pieces USING btree (track_id);

CREATE INDEX places_of_workspaces ON public.places USING btree (workspace_id, "position");

CREATE INDEX portraits_digest ON public.portraits USING btree (digest);

CREATE INDEX programs_person ON public.programs USING btree (person_id, made_at);

CREATE INDEX programs_workspace ON public.programs USING btree (workspace_id);

CREATE INDEX proofs_of_person ON public.proofs USING btree (person_id);

CREATE UNIQUE INDEX proofs_one_of_kind ON public.proofs USING btree (person_id, kind) WHERE (kind <> 'undo'::text);

CREATE INDEX publications_asked ON public.publications USING btree (asked_at);

CREATE INDEX publications_waiting ON public.publications USING btree (asked_at) WHERE (state = 'waiting'::text);

CREATE INDEX reactions_newest ON public.reactions USING btree (recording_id, created_at DESC, id DESC);

CREATE INDEX reactions_recording ON public.reactions USING btree (recording_id, at_us);

CREATE INDEX reactions_viewer ON public.reactions USING btree (viewer_id);

CREATE INDEX recordings_arrived ON public.recordings USING btree (folder_id, COALESCE(arrived_at, created_at) DESC, id DESC) WHERE (folder_id IS NOT NULL);

CREATE INDEX recordings_deleted ON public.recordings USING btree (deleted_at) WHERE (deleted_at IS NOT NULL);

CREATE INDEX recordings_folder ON public.recordings USING btree (folder_id, created_at DESC, id DESC) WHERE (folder_id IS NOT NULL);

CREATE INDEX recordings_going ON public.recordings USING btree (workspace_id) WHERE ((goes_at IS NOT NULL) AND (deleted_at IS NULL));

CREATE INDEX recordings_length ON public.recordings USING btree (workspace_id, duration_us DESC, id DESC) WHERE (deleted_at IS NULL);

CREATE INDEX recordings_made ON public.recordings USING btree (owner_id, created_at, id);

CREATE INDEX recordings_newest ON public.recordings USING btree (workspace_id, created_at DESC, id DESC) WHERE (deleted_at IS NULL);

CREATE INDEX recordings_owed ON public.recordings USING btree (owner_id, owed, created_at DESC, id DESC) WHERE (deleted_at IS NULL);

CREATE INDEX recordings_own ON public.recordings USING btree (workspace_id, owner_id, created_at DESC, id DESC) WHERE (deleted_at IS NULL);

CREATE INDEX recordings_owner ON public.recordings USING btree (owner_id, created_at DESC) WHERE (deleted_at IS NULL);

CREATE INDEX recordings_search ON public.recordings USING gin (title public.gin_trgm_ops);

CREATE INDEX recordings_shared ON public.recordings USING btree (workspace_id, created_at DESC, id DESC) WHERE ((deleted_at IS NULL) AND (audience <> 'owner'::text));

CREATE INDEX recordings_title ON public.recordings USING btree (workspace_id, lower(title), id) WHERE (deleted_at IS NULL);

CREATE INDEX recordings_used ON public.recordings USING btree (workspace_id, used_at, id) WHERE ((deleted_at IS NULL) AND (NOT spared));

CREATE INDEX removed_members_person ON public.removed_members USING btree (person_id);

CREATE INDEX revisions_grows ON public.revisions USING btree (grows) WHERE (grows IS NOT NULL);

CREATE INDEX segments_edges ON public.segments USING btree (stored_at) WHERE (number < 0);

CREATE INDEX sendings_of_places ON public.sendings USING btree (place_id) WHERE (place_id IS NOT NULL);

CREATE INDEX sendings_under_way ON public.sendings USING btree (id) WHERE ((state = ANY (ARRAY['waiting'::text, 'sending'::text, 'processing'::text, 'removing'::text])) OR ((link IS NOT NULL) AND (told_version < about_version)));

CREATE INDEX sessions_expiry ON public.sessions USING btree (expires_at);

CREATE INDEX sessions_member ON public.sessions USING btree (person_id);

CREATE UNIQUE INDEX sessions_push ON public.sessions USING btree (((push ->> 'endpoint'::text))) WHERE (push IS NOT NULL);

CREATE UNIQUE INDEX set_ups_first ON public.set_ups USING btree (person_id) WHERE is_first;

CREATE UNIQUE INDEX set_ups_name ON public.set_ups USING btree (person_id, lower(name));

CREATE INDEX spans_made ON public.spans USING btree (recording_id, made);

CREATE INDEX starts_email ON public.starts USING btree (email, made_at);

CREATE INDEX starts_ends ON public.starts USING btree (ends_at);

CREATE INDEX takes_media_of ON public.takes USING btree (media_of) WHERE (media_of IS NOT NULL);

CREATE INDEX takes_silent ON public.takes USING btree (heard_at) WHERE (state <> 'complete'::text);

CREATE INDEX takes_started ON public.takes USING btree (started_at);

CREATE INDEX takes_suppressed ON public.takes USING btree (id) WHERE (suppressed = 'wanted'::text);

CREATE INDEX takes_to_clear ON public.takes USING btree (discarded_at) WHERE ((discarded_at IS NOT NULL) AND (bytes IS DISTINCT FROM 0));

CREATE INDEX viewers_guest ON public.viewers USING btree (guest_id) WHERE (guest_id IS NOT NULL);

CREATE INDEX viewers_invite ON public.viewers USING btree (invite_id) WHERE (invite_id IS NOT NULL);

CREATE INDEX viewers_latest ON public.viewers USING btree (recording_id, last_opened_at DESC, number);

CREATE INDEX viewers_member ON public.viewers USING btree (person_id) WHERE (person_id IS NOT NULL);

CREATE INDEX viewers_unnamed ON public.viewers USING btree (recording_id) WHERE (NOT named);

CREATE INDEX workspaces_letting_go ON public.workspaces USING btree (id) WHERE (unused_days IS NOT NULL);

CREATE TRIGGER answer_said AFTER INSERT OR UPDATE ON public.answers FOR EACH ROW EXECUTE FUNCTION public.answer_said();

CREATE TRIGGER arrives BEFORE UPDATE OF folder_id, audience, owed, deleted_at ON public.recordings FOR EACH ROW WHEN (((new.folder_id IS NOT NULL) AND (new.deleted_at IS NULL) AND (new.audience = ANY (ARRAY['folder'::text, 'workspace'::text, 'anyone'::text])) AND (new.owed <> 'arriving'::text) AND ((old.folder_id IS DISTINCT FROM new.folder_id) OR (old.owed = 'arriving'::text) OR (old.deleted_at IS NOT NULL) OR (old.audience <> ALL (ARRAY['folder'::text, 'workspace'::text, 'anyone'::text]))))) EXECUTE FUNCTION public.note_arrival();

CREATE TRIGGER asked_anew AFTER UPDATE OF id ON public.publications FOR EACH ROW WHEN ((new.id <> old.id)) EXECUTE FUNCTION public.taken_back();

CREATE TRIGGER comment_said AFTER INSERT OR UPDATE OF body, removed_at ON public.comments FOR EACH ROW EXECUTE FUNCTION public.comment_said();

CREATE TRIGGER has_arrived AFTER UPDATE OF owed ON public.recordings FOR EACH ROW WHEN (((old.owed = 'arriving'::text) AND (new.owed <> 'arriving'::text))) EXECUTE FUNCTION public.has_arrived();

CREATE TRIGGER has_arrived AFTER UPDATE OF state ON public.takes FOR EACH ROW WHEN (((new.state = 'complete'::text) AND (old.state <> 'complete'::text))) EXECUTE FUNCTION public.taken_back();

CREATE TRIGGER invite_made AFTER INSERT OR UPDATE OF person_id ON public.invites FOR EACH ROW WHEN ((new.person_id IS NOT NULL)) EXECUTE FUNCTION public.invite_made();

CREATE TRIGGER let_stay AFTER UPDATE OF goes_at ON public.recordings FOR EACH ROW WHEN (((old.goes_at IS NOT NULL) AND (new.goes_at IS NULL))) EXECUTE FUNCTION public.let_stay();

CREATE TRIGGER owed_changed AFTER INSERT OR DELETE OR UPDATE ON public.answers FOR EACH ROW EXECUTE FUNCTION public.owed_changed();

CREATE TRIGGER owed_changed AFTER INSERT OR DELETE OR UPDATE ON public.asks FOR EACH ROW EXECUTE FUNCTION public.owed_changed();

CREATE TRIGGER owed_changed AFTER INSERT OR DELETE ON public.invites FOR EACH ROW EXECUTE FUNCTION public.owed_changed();

CREATE TRIGGER owed_changed AFTER UPDATE OF audience, duration_us ON public.recordings FOR EACH ROW WHEN (((old.audience <> new.audience) OR (old.duration_us <> new.duration_us))) EXECUTE FUNCTION public.owed_of_itself_changed();

CREATE TRIGGER owed_changed AFTER INSERT OR UPDATE OF state ON public.takes FOR EACH ROW EXECUTE FUNCTION public.owed_changed();

CREATE TRIGGER owed_changed AFTER UPDATE OF invite_id ON public.viewers FOR EACH ROW WHEN ((old.invite_id IS DISTINCT FROM new.invite_id)) EXECUTE FUNCTION public.owed_changed();

CREATE TRIGGER publication_failed AFTER UPDATE OF state ON public.publications FOR EACH ROW WHEN (((new.state = 'failed'::text) AND (old.state <> 'failed'::text))) EXECUTE FUNCTION public.publication_failed();

CREATE TRIGGER reaction_said AFTER INSERT ON public.reactions FOR EACH ROW EXECUTE FUNCTION public.reaction_said();

CREATE TRIGGER shelved AFTER UPDATE OF folder_id, audience, owed, deleted_at ON public.recordings FOR EACH ROW WHEN (((new.folder_id IS NOT NULL) AND (new.deleted_at IS NULL) AND (new.audience = ANY (ARRAY['folder'::text, 'workspace'::text, 'anyone'::text])) AND (new.owed <> 'arriving'::text) AND ((old.folder_id IS DISTINCT FROM new.folder_id) OR (old.owed = 'arriving'::text) OR (old.deleted_at IS NOT NULL) OR (old.audience <> ALL (ARRAY['folder'::text, 'workspace'::text, 'anyone'::text]))))) EXECUTE FUNCTION public.tell_of_shelved();

CREATE TRIGGER taken_back AFTER DELETE ON public.answers FOR EACH ROW EXECUTE FUNCTION public.taken_back();

CREATE TRIGGER taken_back AFTER DELETE ON public.comments FOR EACH ROW EXECUTE FUNCTION public.taken_back();

CREATE TRIGGER taken_back AFTER DELETE ON public.invites FOR EACH ROW EXECUTE FUNCTION public.taken_back();

CREATE TRIGGER taken_back AFTER DELETE ON public.publications FOR EACH ROW EXECUTE FUNCTION public.taken_back();

CREATE TRIGGER taken_back AFTER DELETE ON public.reactions FOR EACH ROW EXECUTE FUNCTION public.taken_back();

CREATE TRIGGER taken_back AFTER DELETE ON public.takes FOR EACH ROW EXECUTE FUNCTION public.taken_back();

CREATE TRIGGER taken_back AFTER DELETE ON public.viewers FOR EACH ROW EXECUTE FUNCTION public.taken_back();

CREATE TRIGGER tell_hooks_of_change AFTER UPDATE OF at ON public.inbox FOR EACH ROW WHEN ((old.at IS DISTINCT FROM new.at)) EXECUTE FUNCTION public.tell_hooks();

CREATE TRIGGER tell_hooks_of_new AFTER INSERT ON public.inbox FOR EACH ROW EXECUTE FUNCTION public.tell_hooks();

CREATE TRIGGER viewer_came AFTER INSERT ON public.viewers FOR EACH ROW WHEN (((new.invite_id IS NOT NULL) AND new.named)) EXECUTE FUNCTION public.viewer_came();

ALTER TABLE ONLY public.answers
    ADD CONSTRAINT answers_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.answers
    ADD CONSTRAINT answers_viewer_id_fkey FOREIGN KEY (viewer_id) REFERENCES public.viewers(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.asks
    ADD CONSTRAINT asks_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.challenges
    ADD CONSTRAINT challenges_person_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.comments
    ADD CONSTRAINT comments_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.comments
    ADD CONSTRAINT comments_reply_to_fkey FOREIGN KEY (reply_to) REFERENCES public.comments(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.comments
    ADD CONSTRAINT comments_viewer_id_fkey FOREIGN KEY (viewer_id) REFERENCES public.viewers(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.deliveries
    ADD CONSTRAINT deliveries_hook_id_fkey FOREIGN KEY (hook_id) REFERENCES public.hooks(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.drafts
    ADD CONSTRAINT drafts_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.edges
    ADD CONSTRAINT edges_track_id_fkey FOREIGN KEY (track_id) REFERENCES public.tracks(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.emblems
    ADD CONSTRAINT emblems_workspace_id_fkey FOREIGN KEY (workspace_id) REFERENCES public.workspaces(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.entries
    ADD CONSTRAINT entries_take_id_fkey FOREIGN KEY (take_id) REFERENCES public.takes(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.events
    ADD CONSTRAINT events_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.feeds
    ADD CONSTRAINT feeds_folder_id_fkey FOREIGN KEY (folder_id) REFERENCES public.folders(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.feeds
    ADD CONSTRAINT feeds_folder_person_id_fkey FOREIGN KEY (folder_person_id) REFERENCES public.folder_people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.feeds
    ADD CONSTRAINT feeds_person_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.films
    ADD CONSTRAINT films_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.folder_news
    ADD CONSTRAINT folder_news_folder_person_id_fkey FOREIGN KEY (folder_person_id) REFERENCES public.folder_people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.folder_news
    ADD CONSTRAINT folder_news_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.folder_people
    ADD CONSTRAINT folder_people_folder_id_fkey FOREIGN KEY (folder_id) REFERENCES public.folders(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.folder_people
    ADD CONSTRAINT folder_people_person_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.folders
    ADD CONSTRAINT folders_parent_id_fkey FOREIGN KEY (parent_id) REFERENCES public.folders(id) ON DELETE RESTRICT;

ALTER TABLE ONLY public.folders
    ADD CONSTRAINT folders_workspace_id_fkey FOREIGN KEY (workspace_id) REFERENCES public.workspaces(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.folds
    ADD CONSTRAINT folds_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.hooks
    ADD CONSTRAINT hooks_person_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.hooks
    ADD CONSTRAINT hooks_workspace_id_fkey FOREIGN KEY (workspace_id) REFERENCES public.workspaces(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.inbox
    ADD CONSTRAINT inbox_member_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.inbox
    ADD CONSTRAINT inbox_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.invites
    ADD CONSTRAINT invites_member_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE SET NULL;

ALTER TABLE ONLY public.invites
    ADD CONSTRAINT invites_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.join_links
    ADD CONSTRAINT join_links_made_by_fkey FOREIGN KEY (made_by) REFERENCES public.people(id) ON DELETE SET NULL;

ALTER TABLE ONLY public.join_links
    ADD CONSTRAINT join_links_workspace_id_fkey FOREIGN KEY (workspace_id) REFERENCES public.workspaces(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.looks
    ADD CONSTRAINT looks_take_id_fkey FOREIGN KEY (take_id) REFERENCES public.takes(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.mails
    ADD CONSTRAINT mails_invite_id_fkey FOREIGN KEY (invite_id) REFERENCES public.invites(id) ON DELETE SET NULL;

ALTER TABLE ONLY public.mails
    ADD CONSTRAINT mails_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.mails
    ADD CONSTRAINT mails_sender_id_fkey FOREIGN KEY (sender_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.members
    ADD CONSTRAINT members_person_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.members
    ADD CONSTRAINT members_workspace_id_fkey1 FOREIGN KEY (workspace_id) REFERENCES public.workspaces(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.notice_wishes
    ADD CONSTRAINT notice_wishes_person_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.old_links
    ADD CONSTRAINT old_links_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.open_pages
    ADD CONSTRAINT open_pages_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.open_pages
    ADD CONSTRAINT open_pages_viewer_id_fkey FOREIGN KEY (viewer_id) REFERENCES public.viewers(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.passkeys
    ADD CONSTRAINT passkeys_person_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.pictures
    ADD CONSTRAINT pictures_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.pieces
    ADD CONSTRAINT pieces_revision_id_fkey FOREIGN KEY (revision_id) REFERENCES public.revisions(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.pieces
    ADD CONSTRAINT pieces_track_id_fkey FOREIGN KEY (track_id) REFERENCES public.tracks(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.places
    ADD CONSTRAINT places_workspace_id_fkey FOREIGN KEY (workspace_id) REFERENCES public.workspaces(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.portraits
    ADD CONSTRAINT portraits_person_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.programs
    ADD CONSTRAINT programs_person_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.programs
    ADD CONSTRAINT programs_workspace_id_fkey FOREIGN KEY (workspace_id) REFERENCES public.workspaces(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.proofs
    ADD CONSTRAINT proofs_person_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.publications
    ADD CONSTRAINT publications_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.reactions
    ADD CONSTRAINT reactions_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.reactions
    ADD CONSTRAINT reactions_viewer_id_fkey FOREIGN KEY (viewer_id) REFERENCES public.viewers(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.recordings
    ADD CONSTRAINT recordings_folder_id_fkey FOREIGN KEY (folder_id) REFERENCES public.folders(id) ON DELETE SET NULL;

ALTER TABLE ONLY public.recordings
    ADD CONSTRAINT recordings_owner_id_fkey FOREIGN KEY (owner_id) REFERENCES public.people(id) ON DELETE RESTRICT;

ALTER TABLE ONLY public.recordings
    ADD CONSTRAINT recordings_workspace_id_fkey FOREIGN KEY (workspace_id) REFERENCES public.workspaces(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.removed_members
    ADD CONSTRAINT removed_members_person_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.removed_members
    ADD CONSTRAINT removed_members_workspace_id_fkey FOREIGN KEY (workspace_id) REFERENCES public.workspaces(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.revisions
    ADD CONSTRAINT revisions_grows_fkey FOREIGN KEY (grows) REFERENCES public.takes(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.revisions
    ADD CONSTRAINT revisions_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.segments
    ADD CONSTRAINT segments_track_id_fkey FOREIGN KEY (track_id) REFERENCES public.tracks(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.sendings
    ADD CONSTRAINT sendings_place_id_fkey FOREIGN KEY (place_id) REFERENCES public.places(id) ON DELETE SET NULL;

ALTER TABLE ONLY public.sendings
    ADD CONSTRAINT sendings_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.sessions
    ADD CONSTRAINT sessions_member_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.sessions
    ADD CONSTRAINT sessions_workspace_id_fkey FOREIGN KEY (workspace_id) REFERENCES public.workspaces(id) ON DELETE SET NULL;

ALTER TABLE ONLY public.set_ups
    ADD CONSTRAINT set_ups_person_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.spans
    ADD CONSTRAINT spans_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.takes
    ADD CONSTRAINT takes_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.tracks
    ADD CONSTRAINT tracks_take_id_fkey FOREIGN KEY (take_id) REFERENCES public.takes(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.viewers
    ADD CONSTRAINT viewers_guest_id_fkey FOREIGN KEY (guest_id) REFERENCES public.guests(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.viewers
    ADD CONSTRAINT viewers_invite_id_fkey FOREIGN KEY (invite_id) REFERENCES public.invites(id) ON DELETE SET NULL;

ALTER TABLE ONLY public.viewers
    ADD CONSTRAINT viewers_member_id_fkey FOREIGN KEY (person_id) REFERENCES public.people(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.viewers
    ADD CONSTRAINT viewers_recording_id_fkey FOREIGN KEY (recording_id) REFERENCES public.recordings(id) ON DELETE CASCADE;
