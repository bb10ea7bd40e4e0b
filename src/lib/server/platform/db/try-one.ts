import { DomainError } from '$lib/core/errors/domain-error';
import { refusalOfRights, type Tx } from './database';

/**
 * Does one of many things within one transaction. Of one that is refused, by a rule or by what the person may not, nothing stays, and
 * the others go on; anything else that goes wrong ends all of them.
 * @returns why it was refused, or null when it was done
 */
export async function tryOne(tx: Tx, work: () => Promise<void>): Promise<DomainError | null> {
	await tx.rows('savepoint one');
	try {
		await work();
		return null;
	} catch (cause) {
		const refused = cause instanceof DomainError ? cause : refusalOfRights(cause);
		if (!refused) throw cause;
		await tx.rows('rollback to savepoint one');
		return refused;
	}
}
