import { LANGUAGES, type Language } from '$lib/core/people/languages';
import { requireContact, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';

/** Lets a contact read the portal and what is written to them in another language. */
export async function chooseLanguage(tx: Tx, actor: Actor, language: Language): Promise<void> {
	requireContact(actor);
	const changed = await tx.first('update contact set locale = $2 where id = $1 and locale <> $2 returning id', [actor.id, language]);
	if (changed) await recordEvent(tx, actor, { verb: 'language_chosen', contactId: actor.id, details: { language: LANGUAGES[language] } });
}
