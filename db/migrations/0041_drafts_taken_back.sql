-- What a draft held before it was changed together with others, by which that is taken back; and when it was thrown away: for a
-- while it can be fetched again.
alter table request_draft add column before jsonb;
alter table request_draft add column removed_at timestamptz;
drop index request_draft_waiting;
create index request_draft_waiting on request_draft (firm_id, made_at) where waits and removed_at is null;
create index request_draft_removed on request_draft (firm_id, removed_at) where removed_at is not null;
