import { createHmac, randomUUID, timingSafeEqual } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { DEFAULT_CHASE_PLAN } from '$lib/core/chasing/chase-plan';
import { shortNameOf, type SetUp } from '$lib/core/firms/firm-forms';
import type { Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { beginSession } from '../people/sessions';
import { requireGoodPassword } from '../people/change-password';
import type { Database } from '../platform/db/database';
import { hashPassword } from '../platform/passwords';
import { keysOf } from '../platform/tokens';
import { ensureFirmSeal } from '../signing/firm-seal';

/** One set-up at a time, over all app processes. */
const SET_UP_LOCK = 7_281_102;
/** Until the firm has chosen one. */
const FIRST_COLOR = '#2c4a63';

/** The code that proves that somebody may read the server's log; it stands there as long as there is no firm. */
export function setUpCode(secretKey: string): string {
	return createHmac('sha256', keysOf(secretKey)[0]).update('set-up').digest('base64url').slice(0, 20);
}

export async function hasFirm(db: Database): Promise<boolean> {
	return (await db.queryOutsideFirm('select 1 from all_firms() limit 1')).length > 0;
}

/**
 * Sets up the first firm with its first administrator, and signs them in.
 * @throws DomainError changed_meanwhile if there is a firm, not_allowed if the code is wrong; PasswordRefused
 */
export async function setUpFirm(
	place: { db: Database },
	from: Actor,
	input: SetUp,
	secretKey: string
): Promise<{ token: string; expiresAt: string }> {
	const [given, right] = [Buffer.from(input.code.trim()), Buffer.from(setUpCode(secretKey))];
	if (given.length !== right.length || !timingSafeEqual(given, right))
		throw new DomainError('not_allowed', 'This is not the code from the server’s log.', { code: 'This is not the code from the server’s log.' });
	requireGoodPassword(input.password, [input.name, input.email, input.firmName]);
	const passwordHash = await hashPassword(input.password);
	const firmId = randomUUID();
	return place.db.inFirm(firmId, async (tx) => {
		await tx.rows('select pg_advisory_xact_lock($1)', [SET_UP_LOCK]);
		if ((await tx.rows('select 1 from all_firms() limit 1')).length > 0)
			throw new DomainError('changed_meanwhile', 'The firm has been set up already. Please sign in.');
		await tx.rows(
			`insert into firm (id, slug, name, time_zone, country, brand_color, mail_from, chase_steps, chase_plan_name, created_at)
			values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
			[
				firmId,
				shortNameOf(input.firmName),
				input.firmName,
				input.timeZone,
				input.country,
				FIRST_COLOR,
				input.email,
				JSON.stringify(DEFAULT_CHASE_PLAN.steps),
				DEFAULT_CHASE_PLAN.name,
				from.now
			]
		);
		const actor: Actor = { ...from, kind: 'staff', id: randomUUID(), name: input.name, role: 'administrator' };
		await tx.rows('insert into staff (id, firm_id, name, email, role, password_hash, created_at) values ($1, $2, $3, $4, $5, $6, $7)', [
			actor.id,
			firmId,
			input.name,
			input.email,
			'administrator',
			passwordHash,
			from.now
		]);
		await ensureFirmSeal(tx, input.firmName, from.now, secretKey);
		await recordEvent(tx, actor, { verb: 'firm_set_up', details: { name: input.firmName } });
		return beginSession(tx, actor, { kind: 'staff', id: actor.id! });
	});
}
