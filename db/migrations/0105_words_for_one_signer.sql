-- Whoever signs later can be told so in words of their own.
alter table request_announcement add column message text;
comment on column request_announcement.message is 'What this person is told; null for what everybody is told of the request';
