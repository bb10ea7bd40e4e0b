import type { Tx } from '../platform/db/database';
import { makeSealCertificates } from '../platform/pdf/seal-certificates';
import { encrypt } from '../platform/tokens';

/** Makes the firm's certificate for sealing letters if it has none; the key is stored encrypted. */
export async function ensureFirmSeal(tx: Tx, firmName: string, now: string, secretKey: string): Promise<void> {
	if (await tx.first('select 1 from seal_certificate')) return;
	const made = await makeSealCertificates(firmName, new Date(Date.parse(now) - 24 * 3600 * 1000));
	await tx.rows(
		'insert into seal_certificate (firm_id, root_pem, leaf_pem, encrypted_key, created_at) values ($1, $2, $3, $4, $5) on conflict do nothing',
		[tx.firmId, made.rootPem, made.leafPem, encrypt(Buffer.from(made.leafKey), secretKey), now]
	);
}

/** The root certificate with which anybody can check the firm's seals. */
export async function readRootCertificate(tx: Tx): Promise<string | null> {
	return (await tx.first<{ root_pem: string }>('select root_pem from seal_certificate'))?.root_pem ?? null;
}
