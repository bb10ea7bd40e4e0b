-- A standing request may end after so many days of its rule (COUNT of RFC 5545), counted from its first one.
alter table standing_request add times smallint check (times between 1 and 999);
