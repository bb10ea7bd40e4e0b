import { createHash, randomUUID } from 'node:crypto';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { questionSchema, type Answers, type Question } from '$lib/core/items/questions';
import { signatureSchema, type Signature } from '$lib/core/signing/signature';
import { answerReader } from '$lib/words/answers';
import { timeWords } from '$lib/words/dates';
import { saying } from '$lib/words/sayings';
import { sayer } from '$lib/words/words';
import { requireReader, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFacts } from '../facts/firm-facts';
import { withBrandOf } from '../firms/brands';
import { loadFirm } from '../firms/firm';
import { eventAbout, type LockedOf } from '../items/change-item';
import { mayReadAnswer } from '../items/read-items';
import type { Tx } from '../platform/db/database';
import { enqueue } from '../platform/queue';
import { signedSheet } from '../items/print-questionnaire';
import { requirePicture } from './signature-picture';
import { readSealKey, stampNeeded, type SealingPlace } from './firm-seal';
import { requireDrawable } from './sign-letter';

const MARK_BROKEN = 'wrong.letter.broken';
/** Characters of a drawn signature, as JSON. */
const MARK_MAX = 400_000;
const formSchema = z.object({
	'sign.consent': z.literal('yes').optional(),
	'sign.signature': z.string().max(MARK_MAX, MARK_BROKEN).optional(),
	/** where no scripts run the name is the signature */
	'sign.name': z.string().max(200).optional()
});

/** The signature that came with a form. @throws DomainError invalid, through Zod with keys of the catalogue */
function signatureOf(form: Readonly<Record<string, unknown>>): Signature {
	const given = formSchema.parse(form);
	if (given['sign.consent'] !== 'yes')
		throw new DomainError('invalid', saying('letter.consentMissing'), { 'sign.consent': saying('letter.consentMissing') });
	if (given['sign.signature'] === undefined) return signatureSchema.parse({ method: 'typed', name: given['sign.name'] ?? '' });
	try {
		return signatureSchema.parse(JSON.parse(given['sign.signature']));
	} catch (error) {
		if (error instanceof SyntaxError) throw new DomainError('invalid', saying(MARK_BROKEN));
		throw error;
	}
}

/**
 * Signs answers as they are handed in, by whoever is asked: nobody else of the client can. They are kept as they are; the worker seals them.
 * @param form with the signature and the consent
 * @throws DomainError not_allowed for others who may answer; invalid if consent or signature is missing
 */
export async function signAnswers(
	tx: Tx,
	actor: Actor,
	item: LockedOf<'questionnaire'>,
	form: Readonly<Record<string, unknown>>,
	signed: { questions: readonly Question[]; answers: Answers; unknown: readonly string[] }
): Promise<void> {
	if (item.contact_id !== actor.id) throw new DomainError('not_allowed', saying('wrong.answers.notYours'));
	const mark = signatureOf(form);
	requireDrawable(mark.name);
	requirePicture(mark);
	const person = await tx.first<{ email: string; locale: string }>('select email::text, locale from contact where id = $1', [actor.id]);
	const say = sayer(person!.locale);
	const id = randomUUID();
	await tx.rows(
		`insert into signed_answers (id, firm_id, client_id, item_id, contact_id, name, email, mark, consent, signed_at, ip, user_agent, locale, title, questions, answers, unknown)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17)`,
		[
			id,
			tx.firmId,
			item.client_id,
			item.id,
			actor.id,
			mark.name,
			person!.email,
			JSON.stringify(mark),
			say('item.sign.consent'),
			actor.now,
			actor.ip,
			actor.userAgent.slice(0, 300),
			person!.locale,
			item.title,
			JSON.stringify(signed.questions),
			JSON.stringify(signed.answers),
			[...signed.unknown]
		]
	);
	await recordEvent(tx, actor, { verb: 'answers_signed', ...eventAbout(item), details: { title: item.title, method: mark.method } });
	await enqueue(tx, 'seal_answers', { firmId: tx.firmId, id });
}

interface SignedRow {
	item_id: string;
	client_id: string;
	client: string;
	request_id: string;
	name: string;
	email: string;
	mark: Signature;
	consent: string;
	signed_at: string;
	ip: string;
	locale: string;
	title: string;
	questions: unknown;
	answers: Answers;
	unknown: string[];
}

/** The ids of the papers that are among some answers. */
const papersOf = (answers: Answers): string[] =>
	Object.values(answers).flatMap((answer) => (Array.isArray(answer) ? answer.flatMap((one) => (typeof one === 'object' && one.paper) || []) : []));

/**
 * Makes the sealed file of signed answers: all of them with the signature, the certificate page and the firm's seal (PAdES B-B). Called
 * again it does nothing: there is one file, whatever dies in between.
 */
export async function sealAnswers(place: SealingPlace, firmId: string, id: string, now: string): Promise<void> {
	const read = await place.db.inFirm(firmId, async (tx) => {
		const row = await tx.first<SignedRow>(
			`select s.*, c.name client, i.request_id from signed_answers s join client c on c.id = s.client_id join item i on i.id = s.item_id
			where s.id = $1 and s.sealed_key is null`,
			[id]
		);
		if (!row) return null;
		const firm = await withBrandOf(tx, await loadFirm(tx), { clientId: row.client_id });
		const key = await readSealKey(tx, place.secretKey);
		const say = sayer(row.locale);
		const when = (at: string) => timeWords(row.locale, at, firm.calendar.timeZone, 'stamp');
		const sheet = await signedSheet(
			tx,
			firm,
			{
				title: row.title,
				clientName: row.client,
				questions: z.array(questionSchema).parse(row.questions),
				answers: row.answers,
				unknown: row.unknown,
				at: row.signed_at
			},
			{ reader: answerReader(row.locale), locale: row.locale }
		);
		const events = await tx.rows<{ at: string; actor_name: string; verb: string; ip: string | null; details: Record<string, string> }>(
			`select at, actor_name, verb, ip, details from event
			where at <= $3 and ((item_id = $1 and verb = 'answers_signed') or (request_id = $2 and verb = 'request_sent')) order by id`,
			[row.item_id, row.request_id, row.signed_at]
		);
		const files = await tx.rows<{ name: string; digest: string; at: string }>(
			`select name, coalesce(encode(sha256, 'hex'), '') digest, uploaded_at at from paper where id = any ($1::uuid[]) order by uploaded_at, id`,
			[papersOf(row.answers)]
		);
		return { row, firm, key, say, when, sheet, events, files };
	});
	if (!read) return;
	const { row, firm, key, say, when, sheet } = read;
	const composed = await place.pdf.answers(sheet);
	const sealed = await place.pdf.seal({
		pdf: composed.pdf,
		title: row.title,
		signaturePage: composed.signature!.page,
		signatureTop: composed.signature!.top,
		signatures: [
			{
				mark: row.mark,
				of: say('letter.clientSide', { client: row.client }),
				when: say('letter.signedAt', { when: when(row.signed_at) }),
				email: row.email,
				ip: row.ip,
				consent: row.consent
			}
		],
		events: [
			...read.files.map(({ name, digest, at }) => ({ when: when(at), what: say('certificate.answers.file', { name, digest }) })),
			...read.events.map((event) => ({
				when: when(event.at),
				what: say(event.verb === 'request_sent' ? 'certificate.answers.sent' : 'certificate.answers.signed', {
					name: event.actor_name,
					to: event.details.contact ?? '',
					method: event.details.method ?? '',
					ip: event.ip ?? ''
				})
			}))
		],
		sha256: createHash('sha256').update(composed.pdf).digest('hex'),
		words: {
			certificate: say('certificate.title'),
			about: say('certificate.answers.about', { firm: firm.name }),
			document: say('certificate.document'),
			digest: say('certificate.answers.digest'),
			signers: say('certificate.signers'),
			events: say('certificate.events'),
			reason: say('certificate.answers.reason')
		},
		key,
		sealedAt: now,
		stampNeeded: stampNeeded(row.signed_at, now)
	});
	const stored = await place.papers.putBuffer(sealed.pdf);
	let kept: { id: string } | null = null;
	try {
		kept = await place.db.inFirm(firmId, (tx) =>
			tx.first<{ id: string }>(
				'update signed_answers set sealed_key = $2, sealed_sha256 = $3, sealed_at = $4 where id = $1 and sealed_key is null returning id',
				[id, stored.key, stored.sha256, now]
			)
		);
	} finally {
		// another worker was faster, or the row is gone
		if (!kept) await place.papers.remove(stored.key);
	}
}

/**
 * The sealed file of the answers that were signed last, for whoever may read all of them.
 * @throws DomainError not_found, also before it is sealed; not_allowed for whoever of the firm may not see one of the answers
 */
export async function openSignedAnswers(tx: Tx, actor: Actor, itemId: string): Promise<{ storageKey: string; name: string }> {
	requireReader(actor);
	const row = await tx.first<{ key: string; title: string; client_id: string; request_id: string; questions: unknown }>(
		`select coalesce(s.sealed_key, '') as key, s.title, s.client_id, i.request_id, s.questions from signed_answers s join item i on i.id = s.item_id
		where s.item_id = $1 and s.sealed_key is not null order by s.signed_at desc limit 1`,
		[itemId]
	);
	if (!row) throw new DomainError('not_found', saying('wrong.paper.unknown'));
	if (actor.kind === 'staff') {
		const facts = await loadFacts(tx);
		if (
			!z
				.array(questionSchema)
				.parse(row.questions)
				.every((question) => mayReadAnswer(actor, facts, question))
		)
			throw new DomainError('not_allowed', 'The signed file holds answers that your role does not see.');
	}
	await recordEvent(tx, actor, {
		verb: 'letter_downloaded',
		clientId: row.client_id,
		requestId: row.request_id,
		itemId,
		details: { title: row.title, sealed: true }
	});
	return { storageKey: row.key, name: `${row.title} (signed).pdf` };
}
