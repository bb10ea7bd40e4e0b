import { randomUUID } from 'node:crypto';
import {
	generateAuthenticationOptions,
	generateRegistrationOptions,
	verifyAuthenticationResponse,
	verifyRegistrationResponse,
	type AuthenticationResponseJSON,
	type PublicKeyCredentialCreationOptionsJSON,
	type PublicKeyCredentialRequestOptionsJSON,
	type RegistrationResponseJSON
} from '@simplewebauthn/server';
import { z } from 'zod';
import { addToInstant } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { SIGN_IN_STEP_MINUTES } from '$lib/core/people/second-step';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../actor';
import type { Database, Tx } from '../platform/db/database';
import { ownerColumns, readPerson, type Person, type PersonRef } from './person';
import { dropUselessCodes, finishSetUp, requireAnother, tellChange } from './second-step';

/** Where passkeys belong: the product's own address (WebAuthn's relying party). */
export interface PasskeyPlace {
	origin: string;
}
const rpId = (place: PasskeyPlace) => new URL(place.origin).hostname;

interface PasskeyRow {
	id: string;
	credential_id: string;
	public_key: Buffer;
	counter: number;
	transports: string[];
	staff_id: string | null;
	contact_id: string | null;
}

/** What a browser sends; its inside is checked by the library. */
const responseSchema = z.looseObject({
	id: z.string().min(1).max(1400),
	rawId: z.string(),
	response: z.looseObject({}),
	type: z.literal('public-key')
});

/** Reads a browser's answer. @throws DomainError invalid */
export function parsePasskeyAnswer(text: string): { id: string } {
	try {
		return responseSchema.parse(JSON.parse(text));
	} catch {
		throw new DomainError('invalid', saying('wrong.passkey'));
	}
}

/** Keeps a challenge until it is answered, once. */
async function keepChallenge(run: Tx['rows'], challenge: string, personId: string | null, now: string): Promise<string> {
	const id = randomUUID();
	await run('delete from passkey_challenge where expires_at < $1', [now]);
	await run('insert into passkey_challenge (id, challenge, person_id, expires_at) values ($1, $2, $3, $4)', [
		id,
		challenge,
		personId,
		addToInstant(now, { minutes: SIGN_IN_STEP_MINUTES })
	]);
	return id;
}

/** The challenge behind an id, which is used up by that; null if it is unknown, too old or somebody else's. */
async function takeChallenge(run: Tx['rows'], id: string, personId: string | null, now: string): Promise<string | null> {
	const [row] = await run<{ challenge: string }>(
		'delete from passkey_challenge where id = $1 and expires_at > $2 and person_id is not distinct from $3 returning challenge',
		[id, now, personId]
	);
	return row ? row.challenge : null;
}

/** Begins to make a passkey for somebody. */
export async function beginPasskey(
	tx: Tx,
	actor: Actor,
	person: Person,
	place: PasskeyPlace & { firmName: string }
): Promise<{ challengeId: string; options: PublicKeyCredentialCreationOptionsJSON }> {
	const known = await tx.rows<{ credential_id: string }>('select credential_id from passkey where coalesce(staff_id, contact_id) = $1', [person.id]);
	const options = await generateRegistrationOptions({
		rpName: place.firmName,
		rpID: rpId(place),
		userID: new TextEncoder().encode(person.id),
		userName: person.email,
		userDisplayName: person.name,
		attestationType: 'none',
		excludeCredentials: known.map((row) => ({ id: row.credential_id })),
		authenticatorSelection: { residentKey: 'preferred', userVerification: 'required' }
	});
	return { challengeId: await keepChallenge(tx.rows, options.challenge, person.id, actor.now), options };
}

/**
 * Keeps a passkey that a browser has made.
 * @returns recovery codes, if the person had none
 * @throws DomainError invalid
 */
export async function keepPasskey(
	tx: Tx,
	actor: Actor,
	person: Person,
	input: { challengeId: string; answer: object; name: string },
	place: PasskeyPlace
): Promise<string[] | null> {
	const challenge = await takeChallenge(tx.rows, input.challengeId, person.id, actor.now);
	const verified = challenge
		? await verifyRegistrationResponse({
				response: input.answer as RegistrationResponseJSON,
				expectedChallenge: challenge,
				expectedOrigin: place.origin,
				expectedRPID: rpId(place),
				requireUserVerification: true
			}).catch(() => null)
		: null;
	if (!verified?.verified) throw new DomainError('invalid', saying('wrong.passkey'));
	const { credential } = verified.registrationInfo;
	await tx.rows(
		`insert into passkey (id, firm_id, staff_id, contact_id, credential_id, public_key, counter, transports, name, made_at) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
		[
			randomUUID(),
			tx.firmId,
			...ownerColumns(person),
			credential.id,
			Buffer.from(credential.publicKey),
			credential.counter,
			credential.transports ?? [],
			input.name,
			actor.now
		]
	);
	return finishSetUp(tx, actor, person, 'passkey');
}

/** Asks for a passkey: anybody's at the first step, one person's at the second. */
export async function askForPasskey(
	db: Database,
	place: PasskeyPlace,
	now: string,
	of: { firmId: string; person: PersonRef } | null
): Promise<{ challengeId: string; options: PublicKeyCredentialRequestOptionsJSON }> {
	const known = of
		? await db.inFirm(of.firmId, (tx) =>
				tx.rows<{ credential_id: string; transports: string[] }>(
					'select credential_id, transports from passkey where coalesce(staff_id, contact_id) = $1',
					[of.person.id]
				)
			)
		: [];
	const options = await generateAuthenticationOptions({
		rpID: rpId(place),
		userVerification: 'required',
		allowCredentials: known.map((row) => ({ id: row.credential_id, transports: row.transports as AuthenticatorTransport[] as never }))
	});
	return { challengeId: await keepChallenge(db.queryOutsideFirm, options.challenge, of?.person.id ?? null, now), options };
}

/**
 * Whose passkey answered a challenge.
 * @param of the person of whom it was asked at the second step; null at the first
 * @returns null if the answer is wrong, too late, used before, or another's
 */
export async function takePasskey(
	db: Database,
	place: PasskeyPlace,
	now: string,
	input: { challengeId: string; answer: { id: string } },
	of: PersonRef | null
): Promise<{ firmId: string; person: Person } | null> {
	const challenge = await takeChallenge(db.queryOutsideFirm, input.challengeId, of?.id ?? null, now);
	const [found] = await db.queryOutsideFirm<{ firm_id: string | null }>('select find_firm_of_passkey($1) as firm_id', [input.answer.id]);
	const firmId = found?.firm_id;
	if (!challenge || !firmId) return null;
	return db.inFirm(firmId, async (tx) => {
		const row = await tx.first<PasskeyRow>(
			'select id, credential_id, public_key, counter, transports, staff_id, contact_id from passkey where credential_id = $1 for update',
			[input.answer.id]
		);
		if (!row || (of && of.id !== (row.staff_id ?? row.contact_id))) return null;
		const verified = await verifyAuthenticationResponse({
			response: input.answer as unknown as AuthenticationResponseJSON,
			expectedChallenge: challenge,
			expectedOrigin: place.origin,
			expectedRPID: rpId(place),
			requireUserVerification: true,
			credential: { id: row.credential_id, publicKey: new Uint8Array(row.public_key), counter: row.counter }
		}).catch(() => null);
		if (!verified?.verified) return null;
		await tx.rows('update passkey set counter = $2, last_used_at = $3 where id = $1', [row.id, verified.authenticationInfo.newCounter, now]);
		const person = await readPerson(tx, row.staff_id ? { kind: 'staff', id: row.staff_id } : { kind: 'contact', id: row.contact_id! });
		return person && { firmId, person };
	});
}

export interface OwnPasskey {
	id: string;
	name: string;
	madeAt: string;
	lastUsedAt: string | null;
}

export function readPasskeys(tx: Tx, person: PersonRef): Promise<OwnPasskey[]> {
	return tx.rows<OwnPasskey>(
		'select id, name, made_at as "madeAt", last_used_at as "lastUsedAt" from passkey where coalesce(staff_id, contact_id) = $1 order by made_at, id',
		[person.id]
	);
}

/** Takes a passkey of somebody's out of use. @throws DomainError invalid, not_found */
export async function removePasskey(tx: Tx, actor: Actor, person: Person, passkeyId: string): Promise<void> {
	await requireAnother(tx, person, 'passkey');
	const gone = await tx.first('delete from passkey where id = $1 and coalesce(staff_id, contact_id) = $2 returning id', [passkeyId, person.id]);
	if (!gone) throw new DomainError('not_found', saying('wrong.passkey.gone'));
	await dropUselessCodes(tx, person);
	await tellChange(tx, actor, person, 'passkey_removed');
}
