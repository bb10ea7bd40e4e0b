-- Lists that come in their order out of an index, however long they are.

-- The order in which drafts were made: of those made together, that of their clients' names.
alter table request_draft add column place bigint generated always as identity;
create index request_draft_in_order on request_draft (firm_id, waits desc, changed_at desc, place) where removed_at is null;
drop index request_draft_waiting;
create index request_draft_waiting on request_draft (firm_id, made_at, place) where waits and removed_at is null;
create index request_draft_plain_title on request_draft using gin (plain(title) gin_trgm_ops) where removed_at is null;

create index request_draft_by_list on request_draft (list_id) where list_id is not null;

-- What is open of a client and of a request, without what was settled over the years.
create index item_open_by_client on item (client_id, due_on, position) where state in ('asked', 'seen', 'started', 'sent_back');
create index item_open_by_request on item (request_id, due_on, position) where state in ('asked', 'seen', 'started', 'sent_back');

-- Drafts are large and many of them are written at once.
alter table request_draft alter column content set compression lz4;
