-- Words for answers that are written again and again are texts of the Library like others.
alter table message_text drop constraint message_text_kind_check;
alter table message_text add constraint message_text_kind_check check (kind in (
	'invitation', 'invitation_sms', 'request', 'request_sms', 'sent_back', 'answer', 'chase_soon', 'chase', 'chase_firmer', 'chase_sms', 'thanks'));
-- What was written at a client is looked through by its words.
create index remark_by_client on remark (client_id, written_at desc);
