-- What client and firm write to each other is about an item, or about nothing in particular: then it is between the firm and one person.
alter table item_remark rename to remark;
alter sequence item_remark_number_seq rename to remark_number_seq;
alter index item_remark_pkey rename to remark_pkey;
alter index item_remark_by_item rename to remark_by_item;
alter index item_remark_unseen rename to remark_unseen;
do $$
declare c text;
begin
	for c in select conname from pg_constraint where conrelid = 'remark'::regclass and conname like 'item\_remark%' loop
		execute format('alter table remark rename constraint %I to %I', c, replace(c, 'item_remark', 'remark'));
	end loop;
end $$;
update clearing set table_name = 'remark' where table_name = 'item_remark';
alter table remark alter column item_id drop not null;
alter table remark add column with_contact_id uuid references contact;
alter table remark add column mail_id uuid references incoming_mail on delete set null;
alter table remark add constraint remark_about check ((item_id is null) = (with_contact_id is not null));
alter table remark add constraint remark_pinned check (attachment_id is null or item_id is not null);
comment on table remark is 'What client and firm write to each other, about an item or to one person in general';
comment on column remark.with_contact_id is 'With whom the firm talks, where it is about no item: they and the firm alone read it';
comment on column remark.mail_id is 'The mail by which it came; null if it was written on a page';
create index remark_with on remark (with_contact_id, client_id, written_at) where with_contact_id is not null;
create index remark_by_mail on remark (mail_id) where mail_id is not null;
drop policy own_clients on remark;
create policy own_clients on remark to lantern_contact
	using (firm_id = (select current_firm()) and client_id = any ((select my_clients())::uuid[])
		and (with_contact_id is null or with_contact_id = (select current_contact())));

-- A mail may answer one of ours, and then brings words as well as papers.
alter table incoming_mail drop constraint incoming_mail_words_check;
alter table incoming_mail add constraint incoming_mail_words_check check (length(words) <= 20000);
alter table incoming_mail add column folded text not null default '' check (length(folded) <= 20000);
alter table incoming_mail add column answers_id uuid references message on delete set null;
alter table incoming_mail add column item_id uuid references item on delete set null;
alter table incoming_mail add column contact_id uuid references contact;
alter table incoming_mail add column away boolean not null default false;
alter table incoming_mail add column back_on date;
alter table incoming_mail add column seen_at timestamptz;
alter table incoming_mail add constraint incoming_mail_answer check (answers_id is null or contact_id is not null);
alter table incoming_mail add constraint incoming_mail_away check (back_on is null or away);
comment on table incoming_mail is 'A mail that came in for a client: it brought papers, or answers one of ours';
comment on column incoming_mail.folded is 'What stood below its words: what it quotes, and the signature';
comment on column incoming_mail.answers_id is 'Which of our messages it answers';
comment on column incoming_mail.item_id is 'The one thing that message was about; null if it named several, or none';
comment on column incoming_mail.contact_id is 'Whom our message was for';
comment on column incoming_mail.away is 'A program says that they are away';
comment on column incoming_mail.back_on is 'The day on which they are back, where the away note says so plainly';
comment on column incoming_mail.seen_at is 'When somebody of the firm dealt with it, where it waited: an away note, or words from somebody who was not known';
create index incoming_mail_to_see on incoming_mail (firm_id, came_at) where answers_id is not null and seen_at is null and (away or held is not null);
create index incoming_mail_of_contact on incoming_mail (contact_id) where contact_id is not null;
create index incoming_mail_answering on incoming_mail (answers_id) where answers_id is not null;

-- Before it is known whose it is.
create function message_to_answer(message uuid) returns table (firm_id uuid, client_id uuid, contact_id uuid, item_id uuid)
language sql stable security definer set search_path = public as
$$
	with answered as (
		select m.firm_id, m.client_id, m.contact_id, coalesce((m.content ->> 'itemId')::uuid,
			(select (array_agg(mi.item_id))[1] from message_item mi where mi.message_id = m.id having count(*) = 1)) item_id
		from message m where m.id = message and m.channel = 'email' and m.contact_id is not null
	)
	select a.firm_id, coalesce(i.client_id, a.client_id,
			(select o.client_id from message_item mi join item o on o.id = mi.item_id where mi.message_id = message order by o.due_on nulls last, o.id limit 1),
			(select t.client_id from tied_person t where t.contact_id = a.contact_id order by t.client_id limit 1)),
		a.contact_id, i.id
	from answered a left join item i on i.id = a.item_id
$$;
revoke execute on function message_to_answer from public;
grant execute on function message_to_answer to lantern_app;

-- Reminders are held: of a person or a whole client.
create table chase_hold (
	id uuid primary key,
	firm_id uuid not null references firm,
	contact_id uuid references contact,
	client_id uuid references client,
	until date not null,
	why text not null check (why in ('replied', 'away', 'paused')),
	reason text not null default '' check (length(reason) <= 300),
	set_at timestamptz not null,
	set_by text not null,
	ended_at timestamptz,
	check (num_nonnulls(contact_id, client_id) = 1)
);
comment on table chase_hold is 'Until when a person, or everybody of a client, is not reminded, and why';
comment on column chase_hold.until is 'The first day on which reminders may go again';
comment on column chase_hold.why is 'They wrote to the firm, they are away, or somebody of the firm paused it';
comment on column chase_hold.set_by is 'Whose name stands beside it';
create unique index chase_hold_of_contact on chase_hold (contact_id, why) where ended_at is null and contact_id is not null;
create unique index chase_hold_of_client on chase_hold (client_id, why) where ended_at is null and client_id is not null;
create index chase_hold_by_end on chase_hold (firm_id, until) where ended_at is null;
alter table chase_hold enable row level security;
create policy same_firm on chase_hold to lantern_app
	using (firm_id = (select current_firm()) and (client_id is null or client_id <> all ((select unseen_clients())::uuid[]))
		and (contact_id is null or contact_id <> all ((select unseen_people())::uuid[])));
create policy may_work_add on chase_hold as restrictive for insert to lantern_app
	with check ((client_id is null or client_id <> all ((select not_worked_clients())::uuid[])) and (contact_id is null or not belongs_to_not_worked(contact_id)));
-- whoever answers somebody ends what their answer held, whatever else they belong to
create policy may_work_change on chase_hold as restrictive for update to lantern_app using (true)
	with check (client_id is null or client_id <> all ((select not_worked_clients())::uuid[]));
create trigger may_work before delete on chase_hold for each row
	when (nullif(current_setting('app.not_worked', true), '') is not null) execute function keep_rows_not_worked();
create policy read_holds on chase_hold for select to lantern_contact using (firm_id = (select current_firm()));
create policy own_hold_set on chase_hold for insert to lantern_contact
	with check (firm_id = (select current_firm()) and contact_id = (select current_contact()));
create policy own_hold_ended on chase_hold for update to lantern_contact using (contact_id = (select current_contact()));
grant select, insert, update, delete on chase_hold to lantern_app;
-- why somebody of the firm paused it is theirs
grant select (id, firm_id, contact_id, client_id, until, why, set_at, ended_at) on chase_hold to lantern_contact;
grant insert on chase_hold to lantern_contact;
grant update (ended_at) on chase_hold to lantern_contact;
insert into clearing (kind, place, table_name) values ('requests', 2, 'chase_hold');

-- The hold of an item that lasts longest.
create view item_hold with (security_invoker = true) as
	select i.id item_id, h.until, h.why
	from item i cross join lateral (
		select h.until, h.why from chase_hold h
		where h.ended_at is null and (h.contact_id = i.contact_id or h.client_id = i.client_id)
		order by h.until desc, h.why limit 1
	) h;
comment on view item_hold is 'Until when nobody is reminded of an item, and why: the longest of what holds its person and its client';
grant select on item_hold to lantern_app, lantern_contact;
