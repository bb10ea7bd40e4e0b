-- The attempt that marked a message as being sent: if the database is lost at that moment, whoever made the attempt can tell that nothing
-- has left, and puts the message back instead of leaving it unclear.
alter table message add column sending_attempt uuid;
