-- A letter that was declined, has lapsed or was withdrawn may be sent again in a new version, which says what changed.
alter table letter
	add column replaces_id uuid references letter on delete set null,
	add column changes jsonb;
comment on column letter.replaces_id is 'The letter of which it is a new version';
comment on column letter.changes is 'What its words say otherwise than those of the version before; null for a first version';
create unique index letter_replaced_once on letter (replaces_id) where replaces_id is not null;
