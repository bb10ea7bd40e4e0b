-- When one person may be written to by itself, besides the firm's sending hours.
alter table contact add column times jsonb check (jsonb_typeof(times) = 'object');
comment on column contact.times is 'Their time zone, hours, days on which nothing goes to them, and how many reminders a week at most; null without any of their own';
create index contact_with_times on contact (firm_id) where times is not null;
