-- What a client has typed about an item and not sent, by field, each with the device and time it came from: the later one stays.
alter table item add column typed jsonb not null default '{}';
-- When somebody of the firm first looked at what was handed in; until then the client may go on with it.
alter table item add column looked_at timestamptz;
-- To whom the whole of a letter was shown: only they can sign by that.
alter table letter add column shown_to_contact uuid references contact (id);
update letter l set shown_to_contact = i.contact_id from item i where i.id = l.item_id and l.shown_whole_at is not null;
-- Where clients call the firm (E.164); null until it is given.
alter table firm add column phone text check (phone ~ '^\+[1-9][0-9]{6,14}$');
