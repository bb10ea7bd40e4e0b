import { factInWords, factRows, valueInWords } from '$lib/core/facts/fact-words';
import { answerInWords, type Answer, type AnswerReader } from '$lib/core/items/answers';
import { conditionInWords, type AnswerCondition } from '$lib/core/requests/conditions';
import type { Question } from '$lib/core/items/questions';
import { askedByAnswers } from '$lib/core/items/answer-review';
import { partsOf } from '$lib/core/items/which-apply';
import { answerConditionInWords } from '$lib/core/questionnaires/answer-words';
import { depthOf } from '$lib/core/questionnaires/sheet-moves';
import type { FirmFacts } from '$lib/core/facts/fact-definition';
import { DomainError } from '$lib/core/errors/domain-error';
import { factReader } from '$lib/words/facts';
import { dateWords, dayOf } from '$lib/words/dates';
import { saying } from '$lib/words/sayings';
import { requireStaff, type Actor } from '../actor';
import { loadFacts } from '../facts/firm-facts';
import { withBrandOf } from '../firms/brands';
import { loadFirm, type Firm } from '../firms/firm';
import { pngAddress, readPicture } from '../firms/pictures';
import { readItem } from '../items/read-items';
import { readQuestionnaire } from '../library/questionnaires';
import { paperOf } from '../platform/pdf/compose-letter';
import type { AnswersToCompose, SheetQuestion } from '../platform/pdf/compose-answers';
import type { Tx } from '../platform/db/database';

/** Lines that are left for words, and rows of a table. */
const ROOM = { words: 4, address: 3, rows: 4 };

/**
 * A questionnaire of the Library as a sheet to be filled in by hand.
 * @param explanations whether what is explained to the client stands below the questions
 */
export async function blankSheet(
	tx: Tx,
	actor: Actor,
	id: string,
	input: { explanations: boolean; reader: AnswerReader }
): Promise<AnswersToCompose> {
	requireStaff(actor, 'look');
	const { name, about, questions } = await readQuestionnaire(tx, actor, id);
	const firm = await loadFirm(tx);
	const facts = await loadFacts(tx);
	const onlyIf = hangsOn(questions, facts);
	return {
		...(await sheetOf(tx, firm)),
		title: name,
		lead: about,
		parts: partsOf(questions).map(({ title, questions: of }) => ({
			title,
			questions: of.map((question) => ({
				...headOf(questions, question, input.explanations),
				onlyIf: onlyIf(question),
				answer: roomFor(question, input.reader)
			}))
		}))
	};
}

/**
 * What a client answered, as a sheet to be kept: what was asked of them and not what was not.
 * @throws DomainError invalid for other items, changed_meanwhile before it is handed in
 */
export async function filledSheet(
	tx: Tx,
	actor: Actor,
	itemId: string,
	input: { explanations: boolean; reader: AnswerReader }
): Promise<AnswersToCompose> {
	const item = await readItem(tx, actor, itemId);
	if (item.kind !== 'questionnaire') throw new DomainError('invalid', saying('wrong.item.otherKind'));
	const answers = item.answerData;
	if (!answers) throw new DomainError('changed_meanwhile', `“${item.title}” is not handed in yet.`);
	const firm = await withBrandOf(tx, await loadFirm(tx), { clientId: item.clientId });
	const { questions } = item.spec;
	const asked = askedByAnswers(questions, answers, item.review);
	const day = dateWords(firm.locale, dayOf(item.stateAt, firm.calendar.timeZone), 'withYear');
	return {
		...(await sheetOf(tx, firm)),
		title: item.title,
		lead: `${item.clientName}. Asked of ${item.contactName}; as of ${day}.`,
		parts: partsOf(asked).map(({ title, questions: of }) => ({
			title,
			questions: of.map((question) => {
				const { key } = question;
				const corrected = item.review.corrected?.[key];
				const said = corrected?.was === null ? 'nothing' : corrected ? `“${answerInWords(question.answer, corrected.was!, input.reader)}”` : '';
				const note = corrected ? `${item.contactName} had answered ${said}; corrected by ${corrected.by}.` : '';
				const answer: SheetQuestion['answer'] =
					key in answers
						? given(question, answers[key], note, input.reader)
						: { is: 'none', words: item.withheld.includes(key) ? 'not shown' : item.review.unknown?.includes(key) ? 'does not know' : 'no answer' };
				return { ...headOf(questions, question, input.explanations), number: asked.indexOf(question) + 1, onlyIf: '', answer };
			})
		}))
	};
}

async function sheetOf(tx: Tx, firm: Firm): Promise<Pick<AnswersToCompose, 'firm' | 'paper' | 'pageWords'>> {
	const logo = await readPicture(tx, firm.logoVersion);
	return {
		firm: { name: firm.name, color: firm.color, logo: logo && pngAddress(logo) },
		paper: paperOf(firm.country),
		pageWords: 'Page {page} of {count}'
	};
}

function headOf(questions: readonly Question[], question: Question, explanations: boolean) {
	const { title, help } = question;
	return { number: questions.indexOf(question) + 1, title, help: explanations ? help : '', depth: depthOf(questions, question) };
}

function given(question: Question, answer: Answer, note: string, reader: AnswerReader): SheetQuestion['answer'] {
	const spec = question.answer;
	if (spec.is !== 'table') return { is: 'given', words: answerInWords(spec, answer, reader), note };
	const written = { ...reader, number: (value: string) => value };
	return {
		is: 'rows',
		columns: spec.columns.map(({ label }) => label),
		rows: factRows(JSON.stringify(answer)).map((row) =>
			spec.columns.map(({ key, is }) => (row[key] === undefined ? '' : valueInWords(is, row[key], written)))
		)
	};
}

function roomFor({ answer: spec }: Question, reader: AnswerReader): SheetQuestion['answer'] {
	switch (spec.is) {
		case 'yes_no':
			return { is: 'choices', choices: [reader.yesNo(true), reader.yesNo(false)], several: false };
		case 'one_of':
		case 'several_of':
			return {
				is: 'choices',
				choices: [...spec.choices, ...(spec.other ? ['Another: ______________________________'] : [])],
				several: spec.is === 'several_of'
			};
		case 'table':
			return {
				is: 'rows',
				columns: spec.columns.map(({ label }) => label),
				rows: Array.from({ length: ROOM.rows }, () => spec.columns.map(() => ''))
			};
		case 'words':
			return { is: 'lines', lines: ROOM.words };
		case 'address':
			return { is: 'lines', lines: ROOM.address };
		default:
			return { is: 'lines', lines: 1 };
	}
}

/** What a question hangs on, by the numbers on the sheet. What the firm alone decides by is not printed. */
function hangsOn(questions: readonly Question[], facts: FirmFacts): (question: Question) => string {
	const reader = factReader('en', '');
	const answer = (condition: AnswerCondition) => answerConditionInWords(condition, questions, reader);
	return ({ under, when, condition }) => {
		const above = under === undefined ? '' : answer({ kind: 'answer', question: under, ...(when ?? { is: 'known', value: '' }) });
		const own = condition?.kind === 'answer' ? conditionInWords(condition, facts, (of, value, is) => factInWords(of, value, reader, is), answer) : '';
		const all = [above, own].filter(Boolean);
		return all.length > 0 ? `Only if ${all.join(', and ')}` : '';
	};
}
