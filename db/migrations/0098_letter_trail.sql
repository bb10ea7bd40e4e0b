-- What happens to a letter is kept a second time, as a chain: each entry holds the hash of the one before, so that nothing can be
-- changed, left out or put in between without all that follows saying so.
create table letter_trail (
	firm_id uuid not null references firm,
	letter_id uuid not null references letter on delete cascade,
	number int not null check (number > 0),
	said text not null,
	hash text not null check (hash ~ '^[0-9a-f]{64}$'),
	primary key (letter_id, number)
);
comment on table letter_trail is 'What happened to a letter, entry by entry, each with the hash of the one before';
comment on column letter_trail.number is 'Place among the entries of its letter, from 1';
comment on column letter_trail.said is 'The entry as canonical JSON (RFC 8785): one object of texts';
comment on column letter_trail.hash is 'SHA-256, hexadecimal, of the hash before (for the first: of the letter as it was shown), a line feed and the entry';

alter table letter_trail enable row level security;
create policy same_firm on letter_trail for select to lantern_app
	using (firm_id = (select current_firm()) and exists (select from letter l where l.id = letter_id));
grant select on letter_trail to lantern_app;
insert into clearing (kind, place, table_name) values ('requests', 54, 'letter_trail');
create trigger letter_trail_append_only before update or delete on letter_trail
	for each row execute function refuse_change();

alter table event add column user_agent text;
comment on column event.user_agent is 'What the browser said of itself; kept for what happens to letters alone';
alter table letter
	add column trail_end text,
	add column stamped_at timestamptz;
comment on column letter.trail_end is 'The hash of the last entry of its trail as it was sealed, which stands in the sealed file too; null if it was sealed before there were trails';
comment on column letter.stamped_at is 'The instant in the time stamp of its seal, by the clock of the service that stamped it; null without a time stamp';

/*
 * Adds an event to the trail of every letter that it is about. It runs at commit, when the transaction asks for no row any more: who waits
 * for the end of a trail then keeps nobody waiting who waits for him.
 */
create function add_to_letter_trails(new event) returns void
language plpgsql security definer set search_path = public as $$
declare
	one record;
	last record;
	said text;
begin
	for one in
		select l.id, encode(l.sha256, 'hex') document from letter l
		where l.firm_id = new.firm_id and l.id in (
			select s.letter_id from letter_signer s where s.item_id = new.item_id
			union select o.id from letter o where o.item_id = new.item_id
			union select s.letter_id from letter_signer s join message_item m on m.item_id = s.item_id where m.message_id = new.message_id
			union select s.letter_id from letter_signer s join item i on i.id = s.item_id
				where i.request_id = new.request_id and new.item_id is null and new.verb in ('request_sent', 'request_put_up', 'request_withdrawn'))
		order by l.id
	loop
		perform pg_advisory_xact_lock(hashtextextended(one.id::text, 98));
		select t.number, t.hash into last from letter_trail t where t.letter_id = one.id order by t.number desc limit 1;
		-- RFC 8785 for an object of texts: keys in order, the shortest escapes, no space
		select '{' || string_agg(to_json(key)::text || ':' || to_json(value)::text, ',' order by key collate "C") || '}' into said
		from (
			select key, value from (values
				('at', to_iso(new.at)), ('by', new.actor_kind), ('who', new.actor_name), ('what', new.verb), ('ip', new.ip), ('device', new.user_agent),
				('address', case new.actor_kind
					when 'contact' then (select email::text from contact where id = new.actor_id)
					when 'staff' then (select email::text from staff where id = new.actor_id) end),
				('to', (select to_address::text from message where id = new.message_id))
			) as own (key, value) where value is not null
			union all
			select 'detail.' || d.key, d.value #>> '{}' from jsonb_each(new.details) d where jsonb_typeof(d.value) in ('string', 'number', 'boolean')
		) as texts;
		insert into letter_trail (firm_id, letter_id, number, said, hash) values (
			new.firm_id, one.id, coalesce(last.number, 0) + 1, said,
			encode(sha256(convert_to(coalesce(last.hash, one.document) || E'\n' || said, 'UTF8')), 'hex'));
	end loop;
end $$;
revoke execute on function add_to_letter_trails from public;
create function keep_letter_trail() returns trigger
language plpgsql security definer set search_path = public as $$
begin
	perform add_to_letter_trails(new);
	return null;
end $$;
revoke execute on function keep_letter_trail from public;
create constraint trigger letter_trail_kept after insert on event deferrable initially deferred for each row
	when (new.verb like 'letter\_%' or new.verb in ('request_sent', 'request_put_up', 'request_withdrawn', 'item_declined', 'item_lapsed', 'item_waived', 'message_sent', 'message_failed', 'message_held_back'))
	execute function keep_letter_trail();

-- what happened before there were trails
select count(add_to_letter_trails(o.e)) from (
	select e from event e where e.verb like 'letter\_%' or e.verb in ('request_sent', 'request_put_up', 'request_withdrawn', 'item_declined', 'item_lapsed', 'item_waived', 'message_sent', 'message_failed', 'message_held_back')
	order by e.id
) o;
