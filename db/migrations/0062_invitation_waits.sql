-- Whether an invitation waits to be taken up is said once, here; that it also expires is a matter of the moment (`expires_at`).
alter table invitation add column waits boolean not null generated always as (taken_up_at is null and withdrawn_at is null and replaced_at is null) stored;
comment on column invitation.waits is 'Neither taken up nor withdrawn nor replaced: with a time before expires_at it can be taken up';
drop index invitation_open;
create index invitation_waits on invitation (firm_id, sent_at) where waits;
drop index invitation_chase_due;
create index invitation_chase_due on invitation (firm_id, next_chase_on) where next_chase_on is not null and waits;
