import type { JobPayload } from '$lib/core/jobs';
import type { Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { planMessage } from '../outbox/plan-message';
import type { Database, Tx } from '../platform/db/database';
import { enqueue } from '../platform/queue';
import { hashToken, newCode, newToken } from '../platform/tokens';
import { findPerson, ownAddress, personAsActor, type PersonRef } from './person';
import { firmOf, type SignInPlace } from './sign-in';
import { beginSignInStep } from './sign-in-steps';

type DoorMail = JobPayload<'mail_from_door'>;

export async function queueDoorMail(db: Database, from: Actor, mail: Omit<DoorMail, 'from'>): Promise<void> {
	const { now, ip, userAgent } = from;
	await enqueue(db, 'mail_from_door', { ...mail, from: { now, ip, userAgent: userAgent.slice(0, 300) } });
}

/** Mails what was asked for, if the address is somebody's. */
export async function mailFromDoor(db: Database, mail: DoorMail): Promise<void> {
	const { kind, email } = mail;
	const from: Actor = { ...mail.from, kind: 'nobody', id: null, name: 'somebody', role: null };
	const firm = await firmOf(db, kind, email, mail.firmId);
	if (!firm) return;
	await db.inFirm(firm, async (tx) => {
		const person = await findPerson(tx, kind, email);
		if (!person?.passwordHash || person.suspended) return;
		const contactId = kind === 'contact' ? person.id : null;
		if (mail.what === 'reset') {
			await recordEvent(tx, personAsActor(from, person), { verb: 'reset_asked', contactId });
			await planMessage(tx, from, { kind: 'password_reset', idempotencyKey: `reset ${person.id} ${from.now}`, to: ownAddress(person), content: {} });
			return;
		}
		const hash = Buffer.from(mail.tokenHash ?? '', 'hex');
		await beginSignInStep(tx, from, person, 'mailed', { token: '', hash });
		const step = await tx.first<{ id: string }>('select id from sign_in_step where token_hash = $1', [hash]);
		await recordEvent(tx, personAsActor(from, person), { verb: 'code_asked', contactId });
		await planMessage(tx, from, { kind: 'sign_in_code', idempotencyKey: `code ${step!.id}`, to: ownAddress(person), content: { stepId: step!.id } });
	});
}

/**
 * Puts a code for signing in on its way, if the address is known. The caller learns nothing about that: the token they
 * get looks the same, and so is the work done while they wait.
 * @throws DomainError too_many
 */
export async function askForCode(place: SignInPlace, from: Actor, kind: PersonRef['kind'], email: string, firmId: string | null): Promise<string> {
	await place.limits.resetTry(`code ${kind} ${firmId ?? ''} ${email.toLowerCase()}`, from.ip);
	const { token, hash } = newToken();
	await queueDoorMail(place.db, from, { what: 'code', kind, email, firmId, tokenHash: hash.toString('hex') });
	return token;
}

/** Makes the code of a step that is sent now; only its hash is kept. */
export async function makeMailedCode(tx: Tx, stepId: string): Promise<string> {
	const code = newCode();
	await tx.rows('update sign_in_step set code_hash = $2 where id = $1', [stepId, hashToken(`${stepId} ${code}`)]);
	return code;
}
