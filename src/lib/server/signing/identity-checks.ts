import { randomUUID } from 'node:crypto';
import { addToInstant } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { ANSWER } from '$lib/core/requests/typed';
import { CHECK_MINUTES, unanswered, type CheckOutcome } from '$lib/core/signing/identity-check';
import { saying } from '$lib/words/sayings';
import { machine, requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import { holdReminders } from '../items/remarks';
import type { Database, Tx } from '../platform/db/database';
import { IdentityServiceAway, type CheckBegun, type IdentityCheckService } from '../platform/identity-checks/identity-check-service';
import { readCheckTerms } from '../platform/identity-checks/terms';
import { errorForLog, log } from '../platform/log';
import type { RateLimits } from '../platform/rate-limits';
import { aboutLetter, asSigner, findOpenCheck, findSigner, findVisit, isAtCheck, isIn, overWhy, type SignerByLink, type Visit } from './letter-links';

interface CheckPlace {
	db: Database;
	limits: RateLimits;
	identity: IdentityCheckService | null;
}

/** What the service says, or null where it is away. */
async function unlessAway<T>(asked: Promise<T>): Promise<{ said: T } | null> {
	try {
		return { said: await asked };
	} catch (error) {
		if (!(error instanceof IdentityServiceAway)) throw error;
		log.warn(errorForLog(error), 'an identity could not be checked');
		return null;
	}
}

/** Locks whose link it is, with the browser that they gave the code in. @throws DomainError not_found, changed_meanwhile */
async function requireAtCheck(tx: Tx, from: Actor, link: string, token: string | undefined): Promise<{ signer: SignerByLink; visit: Visit }> {
	const signer = await findSigner(tx, link, true);
	if (overWhy(signer, from.now)) throw new DomainError('changed_meanwhile', saying('wrong.letterLink.over'));
	const visit = await findVisit(tx, signer.id, token, true);
	if (!visit || !isAtCheck(signer, visit, from.now)) throw new DomainError('changed_meanwhile', saying('wrong.check.again'));
	return { signer, visit };
}

/** Stops whoever has no try left: they cannot go on, nobody reminds them, and the firm finds them in Rounds. */
async function stopIfNoneLeft(tx: Tx, actor: Actor, signerId: string): Promise<void> {
	const stopped = await tx.first<{ item_id: string | null }>(
		'update letter_signer set check_stopped_at = $2 where id = $1 and checks_left = 0 and check_stopped_at is null returning item_id',
		[signerId, actor.now]
	);
	if (stopped?.item_id) await holdReminders(tx, actor, stopped.item_id);
}

/** Ends a check that waits. Questions are about a person, and kept no longer. @returns false if it has ended by now */
async function endCheck(tx: Tx, id: string, outcome: CheckOutcome, score: number | null, now: string): Promise<boolean> {
	return (
		(await tx.first(
			'update identity_check set outcome = $2, score = $3, ended_at = $4, questions = null where id = $1 and outcome is null returning id',
			[id, outcome, score, now]
		)) !== null
	);
}

/** Ends what nobody has answered in time. Each was one of their tries. */
export async function expireChecks(db: Database, firmId: string, now: string): Promise<void> {
	const actor = machine(now);
	await db.inFirm(firmId, async (tx) => {
		const late = await tx.rows<{
			signer_id: string;
			contact: string;
			item_id: string;
			request_id: string;
			client_id: string;
			title: string;
			service: string;
		}>(
			`with ended as (
				update identity_check set outcome = 'expired', ended_at = $2, questions = null where firm_id = $1 and outcome is null and begun_at <= $3
				returning signer_id, service
			)
			select e.signer_id, e.service, s.name contact, i.id item_id, i.request_id, i.client_id, i.title from ended e join letter_signer s on s.id = e.signer_id join item i on i.id = s.item_id
			order by e.signer_id`,
			[firmId, now, addToInstant(now, { minutes: -CHECK_MINUTES })]
		);
		for (const one of late) {
			await recordEvent(tx, actor, {
				verb: 'letter_check_expired',
				clientId: one.client_id,
				requestId: one.request_id,
				itemId: one.item_id,
				details: { title: one.title, contact: one.contact, service: one.service }
			});
			await stopIfNoneLeft(tx, actor, one.signer_id);
		}
	});
}

/**
 * Has the service ask somebody who they are. Asked for twice, they are asked once. A service that is away costs them no try.
 * @throws DomainError not_found, too_many, changed_meanwhile where the code has to be given anew or none is left, invalid if the service is away
 */
export async function beginIdentityCheck(place: CheckPlace, firmId: string, from: Actor, link: string, token: string | undefined): Promise<void> {
	const known = await place.db.inFirm(firmId, (tx) => findSigner(tx, link));
	await place.limits.codeTry(`check ${known.id}`, from.ip);
	const { identity } = place;
	if (!identity) throw new DomainError('invalid', saying('wrong.check.away'));
	await expireChecks(place.db, firmId, from.now);
	const begun = await place.db.inFirm(firmId, async (tx) => {
		const { signer, visit } = await requireAtCheck(tx, from, link, token);
		if (signer.checkStoppedAt) throw new DomainError('changed_meanwhile', saying('wrong.check.stopped'));
		const { country } = await loadFirm(tx);
		const waiting = await findOpenCheck(tx, visit.id, from.now);
		if (waiting?.questions) return null;
		// the process died while the service was asked, or is asking: with the same reference it answers the same
		if (waiting) return { id: waiting.id, signer, country };
		const terms = await readCheckTerms(tx);
		if (!terms) throw new DomainError('invalid', saying('wrong.check.away'));
		const left = await tx.first('update letter_signer set checks_left = checks_left - 1 where id = $1 and checks_left > 0 returning id', [signer.id]);
		if (!left) throw new DomainError('changed_meanwhile', saying('wrong.check.elsewhere'));
		const id = randomUUID();
		await tx.rows(
			'insert into identity_check (id, firm_id, signer_id, visit_id, service, price, currency, begun_at) values ($1, $2, $3, $4, $5, $6, $7, $8)',
			[id, firmId, signer.id, visit.id, terms.name, terms.price, terms.currency, from.now]
		);
		return { id, signer, country };
	});
	if (!begun) return;
	const { id, signer, country } = begun;
	const { name, email, phone, locale: language } = signer;
	const answer = await unlessAway(identity.begin({ reference: id, name, email, phone, language, country }));
	await place.db.inFirm(firmId, (tx) => keepBegun(tx, from, signer, id, answer));
	if (!answer) throw new DomainError('invalid', saying('wrong.check.away'));
}

/** Keeps the questions that came, or that none did. */
async function keepBegun(tx: Tx, from: Actor, signer: SignerByLink, id: string, answer: { said: CheckBegun } | null): Promise<void> {
	if (!answer) {
		const gone = await tx.first('delete from identity_check where id = $1 and outcome is null and questions is null returning id', [id]);
		if (gone) await tx.rows('update letter_signer set checks_left = checks_left + 1 where id = $1', [signer.id]);
		return;
	}
	if (answer.said === null) {
		if (!(await endCheck(tx, id, 'unknown', null, from.now))) return;
		await tx.rows('update letter_signer set checks_left = 0 where id = $1', [signer.id]);
		await recordOutcome(tx, from, signer, id, 'letter_check_unknown');
		await stopIfNoneLeft(tx, from, signer.id);
		return;
	}
	const kept = await tx.first(
		'update identity_check set service_key = $2, questions = $3 where id = $1 and outcome is null and questions is null returning id',
		[id, answer.said.key, JSON.stringify(answer.said.questions)]
	);
	if (kept) await recordOutcome(tx, from, signer, id, 'letter_check_begun', { questions: String(answer.said.questions.length) });
}

type CheckVerb = 'letter_check_begun' | 'letter_check_passed' | 'letter_check_failed' | 'letter_check_unknown';

async function recordOutcome(
	tx: Tx,
	actor: Actor,
	signer: SignerByLink,
	id: string,
	verb: CheckVerb,
	more: Record<string, string> = {}
): Promise<void> {
	const { service, price } = (await tx.first<{ service: string; price: string }>(
		`select service, coalesce(price::text || ' ' || currency, '0') price from identity_check where id = $1`,
		[id]
	))!;
	await recordEvent(tx, actor, { verb, ...aboutLetter(signer), details: { title: signer.title, contact: signer.name, service, price, ...more } });
}

/**
 * Takes the answers to the service's questions, and lets in whoever has shown who they are.
 * @param given what was chosen, by the key of the question
 * @returns 'in', 'failed' if they may be asked once more, or 'stopped'
 * @throws DomainError not_found, too_many, changed_meanwhile where the questions are over, invalid if some have no answer or the service is away
 */
export async function answerIdentityCheck(
	place: CheckPlace,
	firmId: string,
	from: Actor,
	link: string,
	token: string | undefined,
	given: Readonly<Record<string, unknown>>
): Promise<'in' | 'failed' | 'stopped'> {
	const known = await place.db.inFirm(firmId, (tx) => findSigner(tx, link));
	await place.limits.codeTry(`check ${known.id}`, from.ip);
	const { identity } = place;
	if (!identity) throw new DomainError('invalid', saying('wrong.check.awayAnswers'));
	const asked = await place.db.inFirm(firmId, async (tx) => {
		// sent twice: the first has let them in
		if (isIn(await findVisit(tx, known.id, token), from.now)) return 'in';
		const { visit } = await requireAtCheck(tx, from, link, token);
		const check = await findOpenCheck(tx, visit.id, from.now);
		if (!check?.questions || !check.serviceKey) throw new DomainError('changed_meanwhile', saying('wrong.check.late'));
		const { questions, serviceKey, id } = check;
		const missing = unanswered(questions, given);
		if (missing.length > 0) {
			const words = saying('wrong.check.unanswered', { count: missing.length });
			throw new DomainError('invalid', words, Object.fromEntries(missing.map((key) => [`${ANSWER}${key}`, words])));
		}
		return { id, serviceKey, answers: Object.fromEntries(questions.map(({ key }) => [key, String(given[key])])) };
	});
	if (asked === 'in') return 'in';
	const answer = await unlessAway(identity.answer(asked.serviceKey, asked.answers));
	if (!answer) throw new DomainError('invalid', saying('wrong.check.awayAnswers'));
	const { passed, score } = answer.said;
	return place.db.inFirm(firmId, async (tx) => {
		const { signer, visit } = await requireAtCheck(tx, from, link, token);
		if (!(await endCheck(tx, asked.id, passed ? 'passed' : 'failed', score, from.now)))
			throw new DomainError('changed_meanwhile', saying('wrong.check.late'));
		const more = { score: String(score) };
		if (passed) {
			await tx.rows('update letter_signer set checks_left = default where id = $1', [signer.id]);
			await tx.rows('update letter_visit set let_in_at = $2 where id = $1', [visit.id, from.now]);
			await recordOutcome(tx, asSigner(from, signer), signer, asked.id, 'letter_check_passed', more);
			return 'in';
		}
		await recordOutcome(tx, from, signer, asked.id, 'letter_check_failed', more);
		await stopIfNoneLeft(tx, from, signer.id);
		return signer.checksLeft > 0 ? 'failed' : 'stopped';
	});
}

/** How it went with those who were asked who they are before a letter was shown to them. */
export interface SignerChecks {
	/** the signer's key */
	key: string;
	/** since when they cannot go on */
	stoppedAt: string | null;
	checks: { at: string; service: string; outcome: CheckOutcome; score: number | null; price: string | null; currency: string | null }[];
}

/** How it went with those of a letter who were asked who they are: nobody of a client reads it, not of themselves either. */
export function readSignerChecks(tx: Tx, actor: Actor, itemId: string): Promise<SignerChecks[]> {
	requireStaff(actor, 'look');
	return tx.rows<SignerChecks>(
		`select o.key, o.check_stopped_at "stoppedAt",
			json_agg(json_build_object('at', to_iso(k.ended_at), 'service', k.service, 'outcome', k.outcome, 'score', k.score, 'price', k.price::text, 'currency', k.currency) order by k.begun_at) checks
		from letter_signer s join letter_signer o on o.letter_id = s.letter_id join identity_check k on k.signer_id = o.id and k.outcome is not null
		where s.item_id = $1 group by o.id order by o.position`,
		[itemId]
	);
}
