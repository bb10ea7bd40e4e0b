-- How many business days after it was sent an invitation is chased.
alter table firm add column invitation_steps int[] not null default '{3,7}';
