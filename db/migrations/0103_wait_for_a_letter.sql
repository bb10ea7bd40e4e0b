-- A request, or a standing one, can wait until letters are signed by all: no work before that.
alter table request_draft add column after_letters uuid[] not null default '{}';
comment on column request_draft.after_letters is 'The letters that all have to sign before it goes by itself; none: a person sends it';
create index request_draft_after_letters on request_draft (firm_id) where after_letters <> '{}' and removed_at is null;

alter table recurring_request
	add column after_letters uuid[] not null default '{}',
	add constraint recurring_request_waits_paused check (after_letters = '{}' or state = 'paused');
comment on column recurring_request.after_letters is 'The letters that all have to sign before it goes on; none: as its state and resumes_on say';
create index recurring_request_after_letters on recurring_request (firm_id) where after_letters <> '{}';

alter table request_list add column letters_first boolean not null default false;
comment on column request_list.letters_first is 'Its other lines go once its letters are signed by all';

-- Whether letters are signed by all: signed, stopped (one of them cannot be signed any more, or is not there), or open.
create function letters_say(letters uuid[]) returns text
language sql stable set search_path = public as $$
	select case
		when count(l.id) < cardinality(letters) or bool_or(l.state in ('declined', 'withdrawn', 'lapsed')) then 'stopped'
		when bool_and(l.state in ('complete', 'sealed')) then 'signed'
		else 'open' end
	from unnest(letters) wanted left join letter l on l.id = wanted
$$;
revoke all on function letters_say(uuid[]) from public;
grant execute on function letters_say(uuid[]) to lantern_app;

-- The letters that something waits for, by name.
create function awaited_letters(letters uuid[]) returns jsonb
language sql stable set search_path = public as $$
	select coalesce(jsonb_agg(jsonb_build_object('id', l.id, 'itemId', i.id, 'title', i.title, 'state', l.state) order by i.title, l.id), '[]')
	from letter l join item i on i.id = l.item_id where l.id = any (letters)
$$;
revoke all on function awaited_letters(uuid[]) from public;
grant execute on function awaited_letters(uuid[]) to lantern_app;

-- What waited for a letter waits for its new version.
create function wait_for_new_version() returns trigger
language plpgsql set search_path = public as $$
begin
	update request_draft set after_letters = array_replace(after_letters, new.replaces_id, new.id), problem = null, waits = run_id is not null
		where firm_id = new.firm_id and after_letters <> '{}' and after_letters @> array[new.replaces_id] and removed_at is null;
	update recurring_request set after_letters = array_replace(after_letters, new.replaces_id, new.id)
		where firm_id = new.firm_id and after_letters <> '{}' and after_letters @> array[new.replaces_id];
	return null;
end;
$$;
revoke all on function wait_for_new_version() from public;
create trigger wait_for_new_version after insert on letter for each row when (new.replaces_id is not null) execute function wait_for_new_version();
