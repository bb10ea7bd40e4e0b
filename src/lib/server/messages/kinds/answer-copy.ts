import { answerInWords } from '$lib/core/items/answers';
import { answerReader } from '$lib/words/answers';
import { readForCopy } from '../../public-pages/answer-page';
import type { MessageKindDefinition } from '../message-kind';

/** A copy of what somebody answered on a public page, to the address that they have proved to be theirs. */
export const answerCopy: MessageKindDefinition = {
	byItself: false,
	address: 'as planned',
	async mail(tx, { firm, message: { recipient }, say, finish }) {
		const copy = await readForCopy(tx, recipient.id);
		const subject = say('mail.answerCopy.subject', { title: copy?.title ?? '', firm: firm.name });
		const lead = say('mail.answerCopy.body', { firm: firm.name });
		const reader = answerReader(recipient.locale);
		const answers = (copy?.questions ?? []).map(({ key, title, answer }) => `${title}\n${answerInWords(answer, copy!.answers[key], reader)}`);
		const written = finish(subject, { paragraphs: [lead, ...answers] });
		// what they answered is read where it is asked who may read it, not in the list of what was sent
		const kept = finish(subject, { paragraphs: [lead, '…'] });
		return { ...written, keptText: kept.keptText, keptHtml: kept.keptHtml };
	}
};
