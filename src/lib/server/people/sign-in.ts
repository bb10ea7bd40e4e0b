import { afterFirstStep } from '$lib/core/people/second-step';
import type { Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Database, Tx } from '../platform/db/database';
import { verifyPassword } from '../platform/passwords';
import type { RateLimits } from '../platform/rate-limits';
import { findDevice, noteDevice } from './devices';
import { takePasskey, type PasskeyPlace } from './passkeys';
import { findPerson, personAsActor, type Person, type PersonRef } from './person';
import { isSecondStepRequired, readSecondSteps } from './second-step';
import { beginSession } from './sessions';
import { beginSignInStep, textCode } from './sign-in-steps';

export interface SignInPlace {
	db: Database;
	limits: RateLimits;
}

/** What a browser has from earlier: the cookie by which its devices are known. */
export interface Browser {
	device: string | undefined;
}

/** Somebody is in: the session's token, and the browser's cookie for the next time. */
export interface Entered {
	firmId: string;
	token: string;
	expiresAt: string;
	deviceCookie: string;
}

/** Somebody is in, or has to take the second step, to which the token belongs. */
export type SignInOutcome = { entered: Entered } | { stepToken: string };

/** Lets somebody in who has proved who they are. */
export async function enter(tx: Tx, actor: Actor, person: Person, browser: Browser, how: { trust: boolean; mustSetUp: boolean }): Promise<Entered> {
	const contactId = person.kind === 'contact' ? person.id : null;
	await recordEvent(tx, actor, { verb: 'signed_in', contactId });
	if (contactId) await tx.rows('update contact set last_seen_at = $2 where id = $1', [contactId, actor.now]);
	const device = await noteDevice(tx, actor, person, browser.device, how.trust);
	const session = await beginSession(tx, actor, person, { deviceId: device.id, mustSetUp: how.mustSetUp });
	return { ...session, firmId: tx.firmId, deviceCookie: device.cookie };
}

/** What follows once the first step is done: in, or asked for the second. */
export async function passFirstStep(tx: Tx, actor: Actor, person: Person, browser: Browser): Promise<SignInOutcome> {
	const [has, required, device] = [
		await readSecondSteps(tx, person),
		await isSecondStepRequired(tx, person.kind),
		await findDevice(tx, person, browser.device, actor.now)
	];
	const next = afterFirstStep(has, required, device?.trusted ?? false);
	if (next !== 'ask') return { entered: await enter(tx, actor, person, browser, { trust: false, mustSetUp: next === 'set_up' }) };
	const stepToken = await beginSignInStep(tx, actor, person, 'second');
	// whoever has nothing else gets the code at once
	if (has.text && !has.authenticator && has.passkeys === 0) await textCode(tx, actor, person, stepToken);
	return { stepToken };
}

/**
 * Takes the first step with a password. A wrong password, an unknown address and a suspended person get the same
 * answer, after the same work.
 * @param firmId for contacts, whose addresses are known per firm; staff are known by address alone
 * @returns null if address and password do not belong together
 * @throws DomainError too_many
 */
export async function signIn(
	place: SignInPlace,
	from: Actor,
	kind: PersonRef['kind'],
	input: { email: string; password: string },
	firmId: string | null,
	browser: Browser = { device: undefined }
): Promise<SignInOutcome | null> {
	const account = `${kind} ${firmId ?? ''} ${input.email.toLowerCase()}`;
	const firm = await firmOf(place.db, kind, input.email, firmId);
	const [person, device] = firm
		? await place.db.inFirm(firm, async (tx) => {
				const found = await findPerson(tx, kind, input.email);
				return [found, found && (await findDevice(tx, found, browser.device, from.now))] as const;
			})
		: [null, null];
	await place.limits.signInTry(account, from.ip, device?.id);
	const right = await verifyPassword(person ? person.passwordHash : null, input.password);
	if (!firm || !person) return null;
	return place.db.inFirm(firm, async (tx) => {
		const actor = personAsActor(from, person);
		if (!right || person.suspended) {
			await recordEvent(tx, actor, { verb: 'sign_in_refused', contactId: kind === 'contact' ? person.id : null });
			return null;
		}
		await place.limits.signInSucceeded(account, from.ip, device?.id);
		return passFirstStep(tx, actor, person, browser);
	});
}

export async function firmOf(db: Database, kind: PersonRef['kind'], email: string, firmId: string | null): Promise<string | null> {
	if (kind === 'contact') return firmId;
	return (await db.queryOutsideFirm<{ firm_id: string }>('select firm_id from find_staff_by_email($1)', [email]))[0]?.firm_id ?? null;
}

/**
 * Signs somebody in with a passkey alone: it holds both steps, since the device asks who uses it.
 * @param firmId for contacts, in whose portal this happens
 * @returns null if it is nobody's here
 * @throws DomainError too_many
 */
export async function signInWithPasskey(
	place: SignInPlace & PasskeyPlace,
	from: Actor,
	kind: PersonRef['kind'],
	input: { challengeId: string; answer: { id: string } },
	firmId: string | null,
	browser: Browser
): Promise<Entered | null> {
	await place.limits.signInTry(`passkey ${input.answer.id.slice(0, 80)}`, from.ip);
	const found = await takePasskey(place.db, place, from.now, input, null);
	if (!found || found.person.kind !== kind || found.person.suspended || (firmId && found.firmId !== firmId)) return null;
	return place.db.inFirm(found.firmId, (tx) =>
		enter(tx, personAsActor(from, found.person), found.person, browser, { trust: false, mustSetUp: false })
	);
}
