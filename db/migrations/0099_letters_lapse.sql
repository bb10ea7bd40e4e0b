-- A letter may be there to be signed until a day only; whoever has not signed is told before.
alter table letter
	add column lapses_on date,
	drop constraint letter_state_check,
	add constraint letter_state_check check (state in ('sent', 'signed', 'complete', 'sealed', 'declined', 'withdrawn', 'lapsed'));
comment on column letter.lapses_on is 'The last day, by the firm’s calendar, on which somebody of the client can sign; null for no end';
create index letter_lapsing on letter (firm_id, lapses_on) where state = 'sent' and lapses_on is not null;
alter table letter_signer add column told_of_lapse_on date;
comment on column letter_signer.told_of_lapse_on is 'The end of which they were told before it came; told again if it was moved';
insert into message_kind (name) values ('letter_lapses');
