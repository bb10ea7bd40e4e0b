-- What a client wrote is given to one of the firm to answer: it stands in their Rounds, and what the client writes after that as well, until
-- it is answered or read.
alter table remark
	add column given_to uuid references staff,
	add column given_by text,
	add check ((given_to is null) = (given_by is null)),
	add check (given_to is null or contact_id is not null);
comment on column remark.given_to is 'Who of the firm was given it to answer; null where whoever looks after the client answers';
comment on column remark.given_by is 'Who gave it to them';

create function remark_goes_with_the_rest() returns trigger language plpgsql set search_path = public as $$
begin
	select r.given_to, r.given_by into new.given_to, new.given_by from remark r
	where r.contact_id is not null and r.seen_at is null and r.given_to is not null
		and (r.item_id = new.item_id or new.item_id is null and r.with_contact_id = new.with_contact_id and r.client_id = new.client_id)
	order by r.number desc limit 1;
	return new;
end $$;
create trigger goes_with_the_rest before insert on remark for each row when (new.contact_id is not null) execute function remark_goes_with_the_rest();

create function who_answers(r remark) returns uuid language sql stable as $$
	select s.id from colleagues_who_see(r.client_id) s where s.id = r.given_to
$$;
comment on function who_answers is 'To whom words of a client were given, as long as they may see the client and are of the firm';
revoke execute on function who_answers from public;
grant execute on function who_answers to lantern_app;
insert into message_kind (name) values ('given_to_answer');
