-- Somebody signs a letter by hand: they send the signed pages, or bring them, and somebody of the firm looks at them.
alter table letter_signer add column on_paper_at timestamptz;
comment on column letter_signer.on_paper_at is 'When they sent the pages that they signed by hand, which somebody of the firm has to look at; null again once they were sent back';
grant update (on_paper_at) on letter_signer to lantern_contact;
create index letter_signer_on_paper on letter_signer (firm_id, on_paper_at) where on_paper_at is not null and state = 'asked';

alter table signature
	add column scan_key text,
	add column scan_sha256 bytea,
	add check ((scan_key is null) = (scan_sha256 is null));
comment on column signature.scan_key is 'Where the pages are that were signed by hand, as they stand in the sealed letter; null for who signed here';
update clearing set files = '{scan_key}' where table_name = 'signature';

create or replace view stored_file as
	select firm_id, storage_key, sha256 from paper where destroyed_at is null
	union all select firm_id, storage_key, sha256 from letter
	union all select firm_id, sealed_key, sealed_sha256 from letter where sealed_key is not null
	union all select firm_id, sealed_key, sealed_sha256 from signed_answers where sealed_key is not null
	union all select firm_id, storage_key, sha256 from attachment
	union all select firm_id, first_page::text, null from attachment where first_page is not null
	union all select firm_id, storage_key, null from transaction_file
	union all select firm_id, storage_key, sha256 from public_file
	union all select firm_id, scan_key, scan_sha256 from signature where scan_key is not null;

create view paper_signer with (security_invoker = true) as
	select s.id, s.firm_id, s.client_id, s.letter_id, s.item_id, s.on_paper_at
	from letter_signer s join letter l on l.id = s.letter_id
	where s.on_paper_at is not null and s.state = 'asked' and l.state in ('sent', 'signed');
grant select on paper_signer to lantern_app, lantern_contact;
comment on view paper_signer is 'Who has sent the pages of a letter that they signed by hand, which nobody of the firm has looked at yet';

-- whoever stands in somebody's place, or comes by another way, begins anew
create or replace function close_links_of_replaced() returns trigger
language plpgsql security definer set search_path = public as $$
begin
	delete from letter_visit where signer_id = old.id;
	new.checks_left := identity_check_tries();
	new.check_stopped_at := null;
	if old.contact_id is distinct from new.contact_id then
		new.on_paper_at := null;
	end if;
	if old.contact_id is distinct from new.contact_id or new.signs_by = 'portal' then
		new.link_hash := null;
	end if;
	return new;
end $$;
