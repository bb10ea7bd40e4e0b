import { readAllFirms } from './db/all-firms';
import type { Database } from './db/database';
import { log } from './log';
import { encryptedAnew, keysOf } from './tokens';

/** Everything that is encrypted with the setting SECRET_KEY. */
const ENCRYPTED = [
	{ table: 'seal_certificate', key: 'firm_id', column: 'encrypted_key' },
	{ table: 'authenticator', key: 'id', column: 'secret' },
	{ table: 'item_secret', key: 'id', column: 'encrypted' },
	{ table: 'payment_authorisation', key: 'id', column: 'encrypted' }
] as const;
const AT_ONCE = 500;

/**
 * While the key is changed, encrypts with the new one what was encrypted with the one before; afterwards that one can go. Done again, or by
 * two workers at once, it changes nothing.
 * @returns how many values were encrypted anew; null if only one key is set
 */
export async function encryptAnew(db: Database, secretKey: string): Promise<number | null> {
	if (keysOf(secretKey).length < 2) return null;
	let count = 0;
	for (const id of await readAllFirms(db))
		for (const { table, key, column } of ENCRYPTED) {
			let after: string | null = '00000000-0000-0000-0000-000000000000';
			while (after !== null)
				after = await db.inFirm(id, async (tx) => {
					const rows: { id: string; sealed: Buffer }[] = await tx.rows(
						`select ${key} id, ${column} sealed from ${table} where firm_id = $1 and ${key} > $2 order by ${key} limit ${AT_ONCE} for update`,
						[tx.firmId, after]
					);
					const anew = rows.flatMap((row) => {
						const sealed = encryptedAnew(row.sealed, secretKey);
						return sealed ? [{ id: row.id, sealed: sealed.toString('hex') }] : [];
					});
					await tx.rows(
						`update ${table} t set ${column} = decode(n.sealed, 'hex') from jsonb_to_recordset($1) as n (id uuid, sealed text) where t.${key} = n.id`,
						[JSON.stringify(anew)]
					);
					count += anew.length;
					return rows.length < AT_ONCE ? null : rows[rows.length - 1].id;
				});
		}
	log.warn({ count }, 'everything is encrypted with the first key of SECRET_KEY: the second one can be taken away');
	return count;
}
