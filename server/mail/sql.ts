/** At address $1 nothing of kind $2 is mailed any more. */
export const REFUSE = /* sql */ `
insert into mail_refusals (address, what) values ($1, $2) on conflict do nothing returning address`;

/** How many letters address $1 got within $2 hours that others have sent. */
export const LETTERS_OF_OTHERS = /* sql */ `
select count(*)::int as count from mails
 where to_address = $1 and sender_id is not null and made_at > now() - make_interval(hours => $2)`;

/** How many letters of kind $2 about the same ($4) address $1 got within an hour from person $3. */
export const LETTERS_OF_A_KIND = /* sql */ `
select count(*)::int as count from mails
 where to_address = $1 and sender_id = $3 and kind = $2 and subject = $4 and made_at > now() - interval '1 hour'`;

/** Mail $1 is carried from now on, by one carrier; a carrier that died has let go of it after some minutes. */
export const CLAIM_MAIL = /* sql */ `
update mails set claimed_at = now()
 where id = $1 and sent_at is null and text is not null and html is not null
   and (claimed_at is null or claimed_at < now() - interval '3 minutes') returning id`;

/** The newest $1 mails, but for those that let somebody into an account. */
export const KEPT_MAILS = /* sql */ `
select id, kind, to_address as "toAddress", to_name as "toName", subject, text, html, made_at as "madeAt",
       sent_at as "sentAt", failed, shown_at as "shownAt"
  from mails where kind <> all('{start,reset,address,changed,join}') order by made_at desc, id desc limit $1`;

/**
 * $1 mails that were written down two minutes ago and that nothing has tried to carry, or nothing but browsers, $2 ms
 * ago.
 */
export const FORGOTTEN_MAILS = /* sql */ `
select id from mails
 where sent_at is null and failed is null and text is not null and made_at < now() - interval '2 minutes'
   and (pushed_at is null or pushed_at < now() - make_interval(secs => $2::float8 / 1000))
 order by made_at limit $1`;
