import { addToInstant, compareInstants } from '$lib/core/calendar/firm-calendar';
import type { CheckService } from '$lib/core/signing/identity-check';
import { amountWords } from '$lib/words/amounts';
import type { Database, Tx } from '../db/database';
import { errorForLog, log } from '../log';
import type { IdentityCheckService } from './identity-check-service';

/** Minutes after which the service is asked again what it calls itself and what it costs. */
const TERMS_MINUTES = 60;

/**
 * Keeps what the service says of itself, for whoever chooses a check; asks it once an hour. A service that is away keeps what it said last;
 * where none is set up nothing is kept.
 */
export async function refreshCheckTerms(db: Database, service: IdentityCheckService | null, now: string): Promise<void> {
	if (!service) return void (await db.queryOutsideFirm('delete from identity_service'));
	const [known] = await db.queryOutsideFirm<{ asked_at: string }>('select asked_at from identity_service');
	const fresh =
		known && compareInstants(known.asked_at, now) <= 0 && compareInstants(addToInstant(known.asked_at, { minutes: TERMS_MINUTES }), now) > 0;
	if (fresh) return;
	try {
		const { service: name, price } = await service.terms();
		await db.queryOutsideFirm(
			`insert into identity_service (name, price, currency, asked_at) values ($1, $2, $3, $4)
			on conflict (one) do update set name = excluded.name, price = excluded.price, currency = excluded.currency, asked_at = excluded.asked_at`,
			[name, price?.amount ?? null, price?.currency ?? null, now]
		);
	} catch (error) {
		log.warn(errorForLog(error), 'the identity check service does not say what it costs');
	}
}

/** The service as it last described itself. @returns null where none is set up, and in practice workspaces, which cost nobody anything */
export function readCheckTerms(tx: Tx): Promise<{ name: string; price: string | null; currency: string | null } | null> {
	return tx.first(
		'select name, price::text, currency from identity_service where not exists (select from firm where id = $1 and practice_of_id is not null)',
		[tx.firmId]
	);
}

/** The same as it is named where a check is chosen. */
export async function readCheckService(tx: Tx): Promise<CheckService | null> {
	const terms = await readCheckTerms(tx);
	if (!terms) return null;
	const { name, price, currency } = terms;
	return { name, costs: price !== null && currency !== null ? `${amountWords('en', price, currency)} each time` : 'nothing' };
}
