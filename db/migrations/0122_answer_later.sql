-- What a client wrote is answered later: until then it does not stand in Rounds. What they write after that stands there at once.
alter table remark
	add column later_until date,
	add column later_by text,
	add check ((later_until is null) = (later_by is null));
comment on column remark.later_until is 'From which day on it waits in Rounds again; null where nobody put it off';
comment on column remark.later_by is 'Who put it off';
