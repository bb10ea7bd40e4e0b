import { z } from 'zod';
import { DomainError } from '../errors/domain-error';
import type { FactDefinition, FirmFacts } from '../facts/fact-definition';
import { ANSWER_KINDS, type Question } from '../items/questions';
import { picturesOfQuestions } from '../requests/files-beside';
import { isPlainItemText, plainItemText } from '../requests/item-text';
import { factsOfCondition, type Condition } from '../requests/conditions';
import { questionnaireSchema, type Questionnaire } from './questionnaire';

/** The file in which a questionnaire goes from one firm to another; see docs/questionnaire-file.md. */
export const FILE_FORMAT = 'humble-lantern-questionnaire';
export const FILE_VERSION = 1;

interface FileFact {
	name: string;
	label: string;
	kind: FactDefinition['is'];
}

const fileSchema = z.looseObject({
	format: z.literal(FILE_FORMAT),
	version: z.int().positive(),
	facts: z
		.array(z.looseObject({ name: z.string().max(60), label: z.string().max(120), kind: z.looseObject({ kind: z.string().max(40) }) }))
		.max(400)
		.default([]),
	questionnaire: z.looseObject({ questions: z.array(z.looseObject({})).max(2000) })
});

/** A questionnaire as its file, with the facts that it names, so that another firm knows what is meant. */
export function questionnaireFile({ name, about, questions, files, signed, year }: Questionnaire, facts: FirmFacts): string {
	const names = new Set(questions.flatMap(({ fact, condition }) => [...(fact ? [fact] : []), ...factsOfCondition(condition ?? null)]));
	const used = [...names].flatMap((one): FileFact[] => {
		const fact = facts.get(one);
		return fact ? [{ name: one, label: fact.label, kind: fact.is }] : [];
	});
	// what an answer brings about names people and lists of this firm
	const asked = questions.map(({ brings: _ours, ...question }) => withoutPictures(question));
	const questionnaire = { name, about, questions: asked, files, signed, year };
	return `${JSON.stringify({ format: FILE_FORMAT, version: FILE_VERSION, facts: used, questionnaire }, null, '\t')}\n`;
}

/**
 * Reads a questionnaire out of its file. Its facts become those of the firm that are called so and written down the same way; a question
 * for another one stays as a question alone, and a condition on another one is left out.
 * @returns the questionnaire, and what was left out of it in words
 * @throws DomainError invalid if it is no such file, of a newer version, or has what is not known here
 */
export function readQuestionnaireFile(text: string, facts: FirmFacts): { questionnaire: Questionnaire; leftOut: string[] } {
	const refuse = (message: string) => new DomainError('invalid', message, { file: message });
	let json: unknown;
	try {
		json = JSON.parse(text);
	} catch {
		throw refuse('This is not a questionnaire that was downloaded here: it cannot be read as JSON.');
	}
	const head = z.object({ format: z.literal(FILE_FORMAT), version: z.int().positive() }).safeParse(json);
	if (!head.success) throw refuse('This is not a questionnaire that was downloaded here.');
	if (head.data.version > FILE_VERSION)
		throw refuse(
			`This file was written by a newer version (${head.data.version}); this one reads up to ${FILE_VERSION}. Ask for an older form of it.`
		);
	const file = fileSchema.safeParse(json);
	if (!file.success) throw refuse('This file is damaged: its questions cannot be read.');
	for (const [i, question] of file.data.questionnaire.questions.entries()) {
		const is: unknown = (question.answer as { is?: unknown } | undefined)?.is;
		if (!ANSWER_KINDS.includes(is as never))
			throw refuse(`Question ${i + 1} is answered in a way that is not known here (${String(is).slice(0, 40)}). Nothing was added.`);
	}
	const parsed = questionnaireSchema.safeParse(file.data.questionnaire);
	if (!parsed.success) {
		const [issue] = parsed.error.issues;
		const at = issue.path[0] === 'questions' && typeof issue.path[1] === 'number' ? `Question ${issue.path[1] + 1}: ` : '';
		throw refuse(`${at}${issue.message} Nothing was added.`);
	}
	const leftOut: string[] = [];
	const ours = new Map<string, string | null>();
	for (const { name, label, kind } of file.data.facts) {
		const same = [facts.get(name), facts.asked.find((fact) => fact.label.toLowerCase() === label.toLowerCase())].find(
			(fact) => fact && !fact.retired && fact.is.kind === kind.kind
		);
		ours.set(name, same?.name ?? null);
		if (!same) leftOut.push(`You have no fact “${label}” of this kind: what asked for it is now only a question, and nothing depends on it.`);
	}
	const nameOf = (name: string): string | null => {
		const known = ours.get(name);
		if (known !== undefined) return known;
		const own = facts.get(name)?.name ?? null;
		ours.set(name, own);
		if (!own) leftOut.push(`You have no fact “${name}”: what asked for it is now only a question, and nothing depends on it.`);
		return own;
	};
	const questions = parsed.data.questions.map((question): Question => {
		const condition = question.condition && withFacts(question.condition, nameOf);
		const { condition: _before, brings: _theirs, ...rest } = withoutPictures(question);
		return { ...rest, fact: question.fact && nameOf(question.fact), ...(condition ? { condition } : {}) };
	});
	return { questionnaire: { ...parsed.data, questions, ends: [] }, leftOut };
}

/** A question whose explanation has no pictures: those are files of one firm. */
function withoutPictures<Q extends Question>(question: Q): Q {
	if (picturesOfQuestions([question]).length === 0) return question;
	const content = question.helpText!.content.filter(({ type }) => type !== 'picture');
	const left = content.length > 0 ? { ...question.helpText!, content } : null;
	return { ...question, helpText: left && !isPlainItemText(left) ? left : null, help: left ? plainItemText(left) : '' };
}

/** A condition with the firm's own names of facts; without the parts that ask about facts the firm does not have. */
function withFacts(condition: Condition, nameOf: (name: string) => string | null): Condition | undefined {
	if (condition.kind === 'all' || condition.kind === 'any') {
		const of = condition.of.flatMap((part) => withFacts(part, nameOf) ?? []);
		return of.length === 0 ? undefined : { ...condition, of };
	}
	if (condition.kind !== 'fact') return condition;
	const fact = nameOf(condition.fact);
	return fact === null ? undefined : { ...condition, fact };
}
