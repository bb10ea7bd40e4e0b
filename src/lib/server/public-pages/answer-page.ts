import { randomUUID, timingSafeEqual } from 'node:crypto';
import { z } from 'zod';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError, type Saying } from '$lib/core/errors/domain-error';
import { answersOf, questionSchema, type Answers, type Question } from '$lib/core/items/questions';
import { questionsFor, whichApply, withoutFiles, type Asked } from '$lib/core/items/which-apply';
import type { Language } from '$lib/core/people/languages';
import { picturesOfQuestions } from '$lib/core/requests/files-beside';
import { CODE_MINUTES, CODE_TRIES, pace, RECEIPT_DAYS, type PublicPageSettings } from '$lib/core/public-pages/public-page';
import { visitorSchema } from '$lib/core/public-pages/visitor';
import { saying } from '$lib/words/sayings';
import { sayingOf } from '$lib/core/facts/fact-values';
import { unknownField } from '$lib/core/items/answer-review';
import type { Actor } from '../actor';
import { readAttachment, type OpenPaper } from '../attachments/attachments';
import { recordEvent } from '../audit/record-event';
import { loadFacts } from '../facts/firm-facts';
import { loadFirm } from '../firms/firm';
import type { TypedForm } from '../item-kinds/item-kind';
import { planMessage } from '../outbox/plan-message';
import type { Database, Tx } from '../platform/db/database';
import type { RateLimits } from '../platform/rate-limits';
import { derivedToken, hashToken, keysOf, newCode, newToken } from '../platform/tokens';

/** A page that anybody may open, with what is asked there. */
export interface OpenPage {
	id: string;
	questionnaireId: string;
	title: string;
	version: number;
	questions: Question[];
	/** files are asked for as well: they can be added once the address is confirmed */
	withFiles: boolean;
	/** the questions, and those that want files, with what only the firm may know */
	whole: Question[];
	who: PublicPageSettings['who'];
	thanks: string;
	sites: string[];
}

const questionsSchema = z.array(questionSchema);

/** Nobody is known here: what the firm knows of its clients decides nothing. */
async function nobodyKnown(tx: Tx, today: string): Promise<Asked> {
	return { known: { kind: null, services: [], facts: {}, today }, facts: await loadFacts(tx) };
}

/** What anybody is asked of some questions, also files, without what only the firm may know. */
export async function publicQuestions(tx: Tx, questions: unknown, today: string): Promise<Question[]> {
	const asked = questionsFor(questionsSchema.parse(questions), await nobodyKnown(tx, today));
	// what hangs on a file is not asked: there are none when the page is answered
	const answered = new Set(withoutFiles(asked).map(({ key }) => key));
	return asked.filter(({ key, answer, under }) => answered.has(key) || (answer.is === 'file' && (under === undefined || answered.has(under))));
}

/**
 * The page with a name, as anybody sees it.
 * @param version of its questionnaire, as the page was opened with; the newest one if there is no such version
 * @throws DomainError not_found if there is none; link_unusable if it is closed
 */
export async function findOpenPage(tx: Tx, actor: Actor, name: string, version?: number): Promise<OpenPage> {
	const page = await tx.first<Omit<OpenPage, 'whole' | 'withFiles'> & { open: boolean }>(
		`select p.id, p.questionnaire_id "questionnaireId", q.name title, coalesce(v.version, q.version) as version, coalesce(v.content -> 'questions', q.questions) questions,
			p.who, p.thanks, p.sites, p.closed_at is null and q.ended_at is null as open
		from public_page p join questionnaire q on q.id = p.questionnaire_id left join questionnaire_version v on v.questionnaire_id = q.id and v.version = $3
		where p.firm_id = $1 and p.name = $2`,
		[tx.firmId, name, version ?? null]
	);
	if (!page) throw new DomainError('not_found', saying('wrong.public.unknown'));
	const { open, ...rest } = page;
	if (!open) throw new DomainError('link_unusable', saying('wrong.public.closed'));
	const firm = await loadFirm(tx);
	const asked = await publicQuestions(tx, page.questions, localDate(actor.now, firm.calendar));
	const keys = new Set(asked.map(({ key }) => key));
	// nobody who is not known adds files
	const questions = withoutFiles(asked);
	const whole = questionsSchema.parse(page.questions).filter(({ key }) => keys.has(key));
	return { ...rest, questions, withFiles: questions.length < asked.length, whole };
}

/**
 * A picture in the explanations of an open page, as it was opened with a version of its questionnaire.
 * @throws DomainError not_found, link_unusable
 */
export async function openPublicPicture(
	tx: Tx,
	actor: Actor,
	{ name, version, pictureId }: { name: string; version: number; pictureId: string }
): Promise<OpenPaper> {
	const page = await findOpenPage(tx, actor, name, Number.isSafeInteger(version) ? Math.min(version, 1_000_000_000) : undefined);
	if (!picturesOfQuestions(page.questions).includes(pictureId)) throw new DomainError('not_found', saying('wrong.paper.unknown'));
	return readAttachment(tx, pictureId);
}

const sealOf = (key: Buffer, text: string) => derivedToken('public page', text, key).token;

/** What a page that is opened carries with it: when, and which opening it is. Nobody makes one without the key. */
export function openingOf(pageId: string, now: string, secretKey: string): string {
	const text = `${Date.parse(now)}.${randomUUID()}`;
	return `${text}.${sealOf(keysOf(secretKey)[0], `${pageId} ${text}`)}`;
}

/** @throws DomainError invalid for what is none of ours */
function readOpening(opening: unknown, pageId: string, secretKey: string): { at: string; once: string } {
	const [, at, once, seal] = /^(\d{10,16})\.([0-9a-f-]{36})\.([\w-]{43})$/.exec(String(opening)) ?? [];
	const real = keysOf(secretKey).some((key) => {
		const expected = Buffer.from(sealOf(key, `${pageId} ${at}.${once}`));
		return seal !== undefined && expected.length === seal.length && timingSafeEqual(expected, Buffer.from(seal));
	});
	if (!real) throw new DomainError('invalid', saying('wrong.public.opening'), { opening: saying('wrong.public.opening') });
	return { at: new Date(Number(at)).toISOString(), once };
}

/** The field that nobody sees: whoever fills it in is no person, or is told to empty it. */
export const UNSEEN_FIELD = 'contact_address';
/** Fields about whoever answers begin so. */
export const VISITOR = 'visitor.';

/**
 * Takes in what somebody answered on a public page. Only what is asked with these answers counts; nothing becomes a fact yet.
 * @returns the token of the page that says so
 * @throws DomainError invalid with what is wrong at which field; too_many; not_found and link_unusable as `findOpenPage` does
 */
export async function takePublicAnswer(
	place: { db: Database; limits: RateLimits; secretKey: string },
	firmId: string,
	actor: Actor,
	input: { name: string; typed: TypedForm; locale: Language }
): Promise<string> {
	const { typed } = input;
	const version = z.coerce.number().int().positive().safeParse(typed.version).data;
	// whoever sends too much is turned away before anything is read
	await place.limits.publicAnswer(`${firmId} ${input.name}`, actor.ip);
	return place.db.inFirm(firmId, async (tx) => {
		const firm = await loadFirm(tx);
		const page = await findOpenPage(tx, actor, input.name, version);
		const opening = readOpening(typed.opening, page.id, place.secretKey);
		if (typeof typed[UNSEEN_FIELD] === 'string' && typed[UNSEEN_FIELD].trim() !== '')
			throw new DomainError('invalid', saying('wrong.public.unseen'), { [UNSEEN_FIELD]: saying('wrong.public.unseen') });
		const today = localDate(actor.now, firm.calendar);
		const read = answersOf(page.questions, typed, true, { ...firm, today });
		const applies = whichApply(page.questions, read.answers, null, today);
		const asked = page.questions.filter(({ key }) => applies.get(key) === 'yes');
		const problems: Record<string, Saying> = Object.fromEntries(
			asked.flatMap(({ key }) => (key in read.problems && typed[unknownField(key)] !== 'yes' ? [[key, read.problems[key]]] : []))
		);
		const visitor = visitorSchema(page.who, firm.country).safeParse(
			Object.fromEntries(['name', 'business', 'email', 'phone'].map((field) => [field, textOf(typed[VISITOR + field])]))
		);
		for (const issue of visitor.error?.issues ?? []) problems[VISITOR + issue.path.join('.')] ??= sayingOf(issue);
		const left = Object.keys(problems).length;
		// a single field about themselves says best what it lacks
		const [only] = Object.entries(problems);
		const what = left === 1 && only[0].startsWith(VISITOR) ? only[1] : saying('wrong.answers.open', { count: left });
		if (left > 0 || !visitor.success) throw new DomainError('invalid', what, problems);
		// said last: whoever only missed a field is not told that they were too fast
		const how = pace(opening.at, actor.now);
		if (how === 'too_fast') throw new DomainError('invalid', saying('wrong.public.fast'));
		if (how === 'too_old') throw new DomainError('invalid', saying('wrong.public.old'), { opening: saying('wrong.public.old') });
		const answers: Answers = Object.fromEntries(asked.flatMap(({ key }) => (key in read.answers ? [[key, read.answers[key]]] : [])));
		if (Object.keys(answers).length === 0) throw new DomainError('invalid', saying('wrong.public.empty'));
		const { token, hash } = newToken();
		const write = (once: string) =>
			tx.first<{ is_new: boolean }>(
				// sent again from the page that was opened then, it is what they say now; what the firm has dealt with stays as it was
				`insert into public_answer as a (id, firm_id, page_id, questionnaire_id, once, version, title, questions, answers, name, business, email, phone, locale, came_at, receipt_hash)
				select $1, $2, $3, $4, $5, $6, $7, $8, $9, v.name, v.business, v.email, v.phone, $11, $12, $13
				from jsonb_to_record($10) as v (name text, business text, email citext, phone text)
				on conflict (firm_id, once) do update set version = excluded.version, title = excluded.title, questions = excluded.questions, answers = excluded.answers,
					name = excluded.name, business = excluded.business, email = excluded.email, phone = excluded.phone, receipt_hash = excluded.receipt_hash,
					confirmed_at = case when a.email = excluded.email then a.confirmed_at end
				where a.outcome is null
				returning xmax::text = '0' is_new`,
				[
					randomUUID(),
					tx.firmId,
					page.id,
					page.questionnaireId,
					once,
					page.version,
					page.title,
					JSON.stringify(page.whole),
					JSON.stringify(answers),
					JSON.stringify(visitor.data),
					input.locale,
					actor.now,
					hash
				]
			);
		const came = (await write(opening.once)) ?? (await write(randomUUID()));
		if (came?.is_new) await recordEvent(tx, actor, { verb: 'public_answer_came', details: { title: page.title } });
		return token;
	});
}

const textOf = (value: unknown): string | undefined => (typeof value === 'string' ? value : undefined);

/** What whoever answered is told afterwards; of what they wrote nothing but where a copy would go. */
export interface Receipt {
	id: string;
	title: string;
	thanks: string;
	email: string | null;
	codeAsked: boolean;
	confirmed: boolean;
}

/** What somebody answered, with what is needed to go on with it. */
export interface LockedReceipt extends Receipt {
	codeHash: Buffer | null;
	codeAskedAt: string | null;
	tries: number;
	questions: unknown;
	answers: Answers;
	/** what the firm did with it; null while it waits */
	outcome: string | null;
}

/** @throws DomainError not_found after two days */
export async function lockReceipt(tx: Tx, actor: Actor, token: string): Promise<LockedReceipt> {
	const row = await tx.first<LockedReceipt>(
		`select a.id, a.title, p.thanks, a.email::text, a.code_asked_at is not null "codeAsked", a.confirmed_at is not null confirmed, a.code_hash "codeHash",
			a.code_asked_at "codeAskedAt", a.code_tries tries, a.questions, a.answers, a.outcome
		from public_answer a join public_page p on p.id = a.page_id
		where a.receipt_hash = $1 and a.came_at > $2::timestamptz - make_interval(days => $3) for update of a`,
		[hashToken(token.slice(0, 100)), actor.now, RECEIPT_DAYS]
	);
	if (!row) throw new DomainError('not_found', saying('wrong.public.receipt'));
	return row;
}

/** @throws DomainError not_found after two days */
export async function readReceipt(tx: Tx, actor: Actor, token: string): Promise<Receipt> {
	const { id, title, thanks, email, codeAsked, confirmed } = await lockReceipt(tx, actor, token);
	return { id, title, thanks, email, codeAsked, confirmed };
}

/**
 * Mails a code to the address somebody gave, because they ask for a copy: only a code, and none of their words, for the address may be
 * somebody else's.
 * @throws DomainError too_many
 */
export async function askForAnswerCode(place: { limits: RateLimits }, tx: Tx, actor: Actor, token: string): Promise<void> {
	const receipt = await lockReceipt(tx, actor, token);
	if (receipt.confirmed || !receipt.email) return;
	await place.limits.answerCode(receipt.email, actor.ip);
	await tx.rows('update public_answer set code_asked_at = $2, code_hash = null, code_tries = 0 where id = $1', [receipt.id, actor.now]);
	await planMessage(tx, actor, {
		kind: 'answer_code',
		idempotencyKey: `answer code ${receipt.id} ${actor.now}`,
		to: { address: receipt.email, publicAnswerId: receipt.id },
		content: {}
	});
}

/** Makes the code that is sent now; only its hash is kept. */
export async function makeAnswerCode(tx: Tx, answerId: string): Promise<string> {
	const code = newCode();
	await tx.rows('update public_answer set code_hash = $2 where id = $1', [answerId, hashToken(`${answerId} ${code}`)]);
	return code;
}

/**
 * Takes the code: the address is theirs, and the copy goes to it.
 * @returns whether the code is right; a wrong one is counted
 * @throws DomainError too_many after too many wrong ones, link_unusable for one that is too old
 */
export async function confirmAddress(tx: Tx, actor: Actor, token: string, code: string): Promise<boolean> {
	const receipt = await lockReceipt(tx, actor, token);
	if (receipt.confirmed) return true;
	if (receipt.tries >= CODE_TRIES) throw new DomainError('too_many', saying('wrong.public.tries'));
	if (!receipt.codeAskedAt || Date.parse(actor.now) - Date.parse(receipt.codeAskedAt) > CODE_MINUTES * 60_000)
		throw new DomainError('link_unusable', saying('wrong.public.codeOld'));
	await tx.rows('update public_answer set code_tries = code_tries + 1 where id = $1', [receipt.id]);
	if (!receipt.codeHash?.equals(hashToken(`${receipt.id} ${code.replace(/\D/g, '')}`))) return false;
	await tx.rows('update public_answer set confirmed_at = $2, code_hash = null where id = $1', [receipt.id, actor.now]);
	await recordEvent(tx, actor, { verb: 'public_answer_confirmed', details: { title: receipt.title } });
	await planMessage(tx, actor, {
		kind: 'answer_copy',
		idempotencyKey: `answer copy ${receipt.id}`,
		to: { address: receipt.email!, publicAnswerId: receipt.id },
		content: {}
	});
	return true;
}

/** The questions that were answered, with their answers, for the copy. */
export async function readForCopy(tx: Tx, answerId: string): Promise<{ title: string; questions: Question[]; answers: Answers } | null> {
	const row = await tx.first<{ title: string; questions: unknown; answers: Answers }>(
		'select title, questions, answers from public_answer where id = $1',
		[answerId]
	);
	return row && { ...row, questions: questionsSchema.parse(row.questions).filter(({ key }) => key in row.answers) };
}
