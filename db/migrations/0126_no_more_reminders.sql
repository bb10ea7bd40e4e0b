-- Who wants no more reminders by e-mail: how they said so, and that somebody of the firm has taken note. A mailbox that has moved is told apart
-- from one that never was, and a mail may name the new address of whoever wrote it.
alter table contact add column stopped_how text check (stopped_how in ('link', 'page', 'complaint'));
alter table contact add column stopped_at timestamptz;
alter table contact add column stop_seen_at timestamptz;
alter table contact add constraint contact_stopped check ((stopped_how is null) = (stopped_at is null));
update contact set stopped_how = case when mail_problem_detail = 'stopped on their page' then 'page' else 'link' end, stopped_at = created_at, stop_seen_at = created_at
where mail_problem = 'opted_out';
create index contact_stopped_unseen on contact (firm_id, stopped_at) where mail_problem = 'opted_out' and stopped_at is not null and stop_seen_at is null;
comment on column contact.stopped_how is 'How they stopped reminders, null while they have not: by the link in one, on their page, or by reporting a mail of ours as unwanted';
comment on column contact.stopped_at is 'When they did; it holds for any address of theirs, until they let reminders come again';
comment on column contact.stop_seen_at is 'When a person of the firm took note of it';

alter table message add column unwanted_at timestamptz;
comment on column message.unwanted_at is 'When the mail service of its reader reported it as unwanted (RFC 5965)';
alter table message drop constraint message_failed_for_check;
alter table message add constraint message_failed_for_check check (failed_for in ('address', 'moved', 'full', 'server'));

alter table incoming_mail add column new_address text check (length(new_address) <= 254);
comment on column incoming_mail.new_address is 'The address that it names as the new one of its sender, where it plainly does';
