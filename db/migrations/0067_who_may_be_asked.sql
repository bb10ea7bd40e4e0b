-- Why somebody cannot be asked for anything at the moment is said once, here; core has the words for it.
alter table contact add column not_asked text generated always as (
	case when suspended_at is not null then 'suspended' when mail_problem in ('no_address', 'bounced') then mail_problem end) stored;
comment on column contact.not_asked is 'Why they cannot be asked for anything: suspended, no_address, bounced; null if they can';
