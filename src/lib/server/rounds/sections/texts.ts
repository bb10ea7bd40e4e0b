import { DomainError } from '$lib/core/errors/domain-error';
import { phoneInWords } from '$lib/core/people/phone';
import { ofMyPeople } from '../../clients/mine';
import { readMessageTexts, type IncomingTextMessage } from '../../messages/incoming-texts';
import { COUNTED, type RoundsSectionDefinition } from '../section';

interface TextLeaf {
	kind: 'text';
	text: IncomingTextMessage & { phoneWords: string | null };
}

export const texts: RoundsSectionDefinition<TextLeaf> = {
	count: `select count(*) from incoming_text t where firm_id = $1 and seen_at is null and ${ofMyPeople('t.contact_id', COUNTED.mineOf)}`,
	rows: async (tx, at) =>
		(await readMessageTexts(tx, at.limit, { mineOf: at.mineOf })).map((text) => ({
			key: `text-${text.id}`,
			clientId: text.clientId,
			clientName: text.clientName ?? text.contactName,
			since: text.cameAt,
			words: `“${text.words}”`,
			aside: text.contactName
		})),
	leaf: {
		key: 'text',
		async read(tx, _actor, firm, id) {
			const [text] = await readMessageTexts(tx, 1, { id });
			if (!text) throw new DomainError('not_found', 'Somebody has read this by now.');
			return { kind: 'text', text: { ...text, phoneWords: text.phone && phoneInWords(text.phone, firm.country) } };
		},
		clientOf: (leaf) => leaf.text.clientId
	}
};
