-- Why a draft that was to go by itself did not.
alter table request_draft add column problem text;
create index request_draft_by_run on request_draft (run_id) where run_id is not null;
-- what is asked of everybody, due first
create index item_open_by_due on item (firm_id, due_on) where state in ('asked', 'seen', 'started', 'sent_back');
