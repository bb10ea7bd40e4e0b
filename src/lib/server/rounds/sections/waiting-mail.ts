import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { phoneInWords } from '$lib/core/people/phone';
import { dateWords } from '$lib/words/dates';
import { countWaitingAnswers, readWaitingAnswers, type WaitingAnswer } from '../../talk/answers-by-mail';
import { COUNTED, type RoundsSectionDefinition } from '../section';

interface WaitingMailLeaf {
	kind: 'waiting_mail';
	answer: WaitingAnswer;
	/** their number as it is dialled in the country of the firm */
	phoneWords: string | null;
	/** the first day that can be chosen for reminders to go again */
	tomorrow: string;
}

export const waiting_mail: RoundsSectionDefinition<WaitingMailLeaf> = {
	count: countWaitingAnswers(COUNTED.mineOf),
	rows: async (tx, at) =>
		(await readWaitingAnswers(tx, at.limit, { mineOf: at.mineOf })).map((one) => ({
			key: `mail-${one.id}`,
			clientId: one.clientId,
			clientName: one.clientName,
			since: one.cameAt,
			words: one.away
				? one.backOn
					? `away, it seems until ${dateWords('en', one.backOn)}`
					: 'away'
				: one.newAddress
					? `has a new address, it seems: ${one.newAddress}`
					: `from ${one.fromAddress}: “${one.words}”`,
			aside: one.contactName
		})),
	leaf: {
		key: 'mail',
		async read(tx, actor, firm, id) {
			const [answer] = await readWaitingAnswers(tx, 1, { id });
			if (!answer) throw new DomainError('not_found', 'Somebody has dealt with this by now.');
			return {
				kind: 'waiting_mail',
				answer,
				phoneWords: answer.contactPhone && phoneInWords(answer.contactPhone, firm.country),
				tomorrow: addDays(localDate(actor.now, firm.calendar), 1)
			};
		},
		clientOf: (leaf) => leaf.answer.clientId
	}
};
