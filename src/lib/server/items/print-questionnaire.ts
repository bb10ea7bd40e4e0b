import { factInWords, factRows, valueInWords } from '$lib/core/facts/fact-words';
import { answerInWords, type Answer, type AnswerReader } from '$lib/core/items/answers';
import { conditionInWords, type AnswerCondition } from '$lib/core/requests/conditions';
import type { Answers, Question } from '$lib/core/items/questions';
import { askedByAnswers, type AnswerReview } from '$lib/core/items/answer-review';
import { partsOf } from '$lib/core/items/which-apply';
import { answerConditionInWords } from '$lib/core/questionnaires/answer-words';
import { itemTextOf } from '$lib/core/requests/item-text';
import { depthOf } from '$lib/core/questionnaires/sheet-moves';
import type { FirmFacts } from '$lib/core/facts/fact-definition';
import { DomainError } from '$lib/core/errors/domain-error';
import { factReader } from '$lib/words/facts';
import { dateWords, dayOf } from '$lib/words/dates';
import { saying } from '$lib/words/sayings';
import { sayer } from '$lib/words/words';
import { requireStaff, type Actor } from '../actor';
import { loadFacts } from '../facts/firm-facts';
import { withBrandOf } from '../firms/brands';
import { loadFirm, type Firm } from '../firms/firm';
import { pngAddress, readPicture } from '../firms/pictures';
import { readItem, readOwnItem } from './read-items';
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
	const day = dateWords(firm.locale, dayOf(item.stateAt, firm.calendar.timeZone), 'withYear');
	const lead = `${item.clientName}. Asked of ${item.contactName}; as of ${day}.`;
	return answeredSheet(tx, firm, { ...item, answers }, { ...input, lead }, (question) => {
		const corrected = item.review.corrected?.[question.key];
		const said = corrected?.was === null ? 'nothing' : corrected ? `“${answerInWords(question.answer, corrected.was!, input.reader)}”` : '';
		return {
			note: corrected ? `${item.contactName} had answered ${said}; corrected by ${corrected.by}.` : '',
			none: item.withheld.includes(question.key) ? 'not shown' : item.review.unknown?.includes(question.key) ? 'does not know' : 'no answer'
		};
	});
}

/**
 * The same for the client who answered, in their language. What the firm says of single answers is its own.
 * @throws DomainError not_found, also for another client's; invalid for other items, changed_meanwhile before it is handed in
 */
export async function ownFilledSheet(
	tx: Tx,
	actor: Actor,
	itemId: string,
	input: { reader: AnswerReader; locale: string }
): Promise<AnswersToCompose> {
	const item = await readOwnItem(tx, actor, itemId);
	if (item.kind !== 'questionnaire') throw new DomainError('invalid', saying('wrong.item.otherKind'));
	const answers = item.answerData;
	if (!answers) throw new DomainError('changed_meanwhile', saying('wrong.answers.none'));
	const firm = await withBrandOf(tx, await loadFirm(tx), { clientId: item.clientId });
	const { title, clientName, spec, review, stateAt: at } = item;
	const of = { title, clientName, questions: spec.questions, answers, unknown: review.unknown ?? [], at };
	return sheetForClient(tx, firm, of, { ...input, explanations: false });
}

/** What a client answered. */
interface Answered {
	title: string;
	clientName: string;
	questions: readonly Question[];
	answers: Answers;
	/** keys of questions whose answer they do not know */
	unknown: readonly string[];
	/** instant */
	at: string;
}

/** Answers as they were signed, in the language in which they were read, with room for the signature. */
export async function signedSheet(tx: Tx, firm: Firm, signed: Answered, input: { reader: AnswerReader; locale: string }): Promise<AnswersToCompose> {
	const sheet = await sheetForClient(tx, firm, signed, { ...input, explanations: true });
	return { ...sheet, signed: sayer(input.locale)('item.sign.consent') };
}

/** Answers in the language of whoever gave them, without what the firm says of them. */
async function sheetForClient(
	tx: Tx,
	firm: Firm,
	of: Answered,
	{ reader, locale, explanations }: { reader: AnswerReader; locale: string; explanations: boolean }
): Promise<AnswersToCompose> {
	const say = sayer(locale);
	const date = dateWords(locale, dayOf(of.at, firm.calendar.timeZone), 'withYear');
	const lead = say('item.questionnaire.asOf', { client: of.clientName, date });
	const item = { ...of, spec: of, review: { unknown: of.unknown } };
	const sheet = await answeredSheet(tx, firm, item, { explanations, reader, lead }, ({ key }) => ({
		note: '',
		none: say(of.unknown.includes(key) ? 'item.questionnaire.unknown' : 'item.questionnaire.none')
	}));
	return { ...sheet, pageWords: say('item.questionnaire.page', { page: '{page}', count: '{count}' }) };
}

/** @param beside what is said of an answer, and what stands where there is none */
async function answeredSheet(
	tx: Tx,
	firm: Firm,
	item: { title: string; spec: { questions: readonly Question[] }; answers: Answers; review: AnswerReview },
	{ explanations, reader, lead }: { explanations: boolean; reader: AnswerReader; lead: string },
	beside: (question: Question) => { note: string; none: string }
): Promise<AnswersToCompose> {
	const { answers } = item;
	const { questions } = item.spec;
	const asked = askedByAnswers(questions, answers, item.review);
	return {
		...(await sheetOf(tx, firm)),
		title: item.title,
		lead,
		parts: partsOf(asked).map(({ title, questions: of }) => ({
			title,
			questions: of.map((question) => {
				const { note, none } = beside(question);
				const answer: SheetQuestion['answer'] =
					question.key in answers ? given(question, answers[question.key], note, reader) : { is: 'none', words: none };
				return { ...headOf(questions, question, explanations), number: asked.indexOf(question) + 1, onlyIf: '', answer };
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
	const { title } = question;
	const help = explanations && question.help ? (question.helpText ?? itemTextOf(question.help)) : null;
	return { number: questions.indexOf(question) + 1, title, help, depth: depthOf(questions, question) };
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
