-- Until when what an item asks can be signed; null where it does not lapse, or nobody of the client has to sign it any more.
create function signable_until(item uuid) returns date
language sql stable set search_path = public as $$
	select l.lapses_on from letter_signer s join letter l on l.id = s.letter_id and l.state = 'sent' where s.item_id = item
$$;
revoke all on function signable_until(uuid) from public;
grant execute on function signable_until(uuid) to lantern_app, lantern_contact;
