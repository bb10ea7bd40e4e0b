-- Texts of requests and reminders that go by text message, and texts in several languages: one of a kind and language is in use.
alter table message_text drop constraint message_text_kind_check;
alter table message_text add constraint message_text_kind_check
	check (kind in ('invitation', 'invitation_sms', 'request', 'request_sms', 'sent_back', 'chase_soon', 'chase', 'chase_sms', 'thanks'));
alter table message_text add column language text not null default 'en' check (language in ('en', 'fr'));
drop index message_text_in_use;
create unique index message_text_in_use on message_text (firm_id, kind, language) where in_use;

-- The language of whoever has not chosen one: visitors of the portal, and contacts who are added.
alter table firm add column client_language text not null default 'en' check (client_language in ('en', 'fr'));
update contact set locale = 'en' where locale not in ('en', 'fr');
alter table contact add constraint contact_locale_check check (locale in ('en', 'fr'));
