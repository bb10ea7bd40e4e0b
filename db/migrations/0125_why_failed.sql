-- Why a message failed: the address is wrong, its mailbox is full just now, or no server took it. Only a wrong address stops what comes after it.
alter table message add column failed_for text check (failed_for in ('address', 'full', 'server'));
update message m set failed_for = case when c.mail_problem = 'bounced' or m.channel = 'text' then 'address' else 'server' end
from contact c where c.id = m.contact_id and m.state = 'failed';
update message set failed_for = 'address' where state = 'failed' and failed_for is null;
alter table message add check (failed_for is null or state = 'failed');
comment on column message.failed_for is 'What made it fail; null where it did not';
