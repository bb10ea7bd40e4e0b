-- The kinds of messages are a list, to which a migration adds a line.
create table message_kind (name text primary key);
comment on table message_kind is 'Every kind of message that there is; the application has a definition for each';
insert into message_kind (name) values ('invitation'), ('invitation_chase'), ('request'), ('chase'), ('sent_back'), ('signed_copy'), ('password_reset'),
	('password_changed'), ('sign_in_code'), ('new_device'), ('second_step_changed'), ('staff_invitation'), ('thanks'), ('remark');
revoke all on message_kind from public;
alter table message drop constraint message_kind_check;
alter table message add constraint message_kind_known foreign key (kind) references message_kind (name);
