-- People of the firm go on with uploads as well.
alter table unfinished_upload alter column contact_id drop not null, add column staff_id uuid references staff on delete cascade,
	add constraint unfinished_upload_whose check (num_nonnulls(contact_id, staff_id) = 1);
comment on column unfinished_upload.contact_id is 'Who of a client began it; null for somebody of the firm';
comment on column unfinished_upload.staff_id is 'Who of the firm began it; null for somebody of a client';
create index unfinished_upload_of_staff on unfinished_upload (staff_id) where staff_id is not null;
