import type { Tx } from '../platform/db/database';
import { makeSealCertificates } from '../platform/pdf/seal-certificates';
import type { Database } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { PdfWork } from '../platform/pdf/pdf-work';
import { decrypt, encrypt } from '../platform/tokens';

/** Makes the firm's certificate for sealing letters if it has none; the key is stored encrypted. */
export async function ensureFirmSeal(tx: Tx, firmName: string, now: string, secretKey: string): Promise<void> {
	if (await tx.first('select 1 from seal_certificate')) return;
	const made = await makeSealCertificates(firmName, new Date(Date.parse(now) - 24 * 3600 * 1000));
	await tx.rows(
		'insert into seal_certificate (firm_id, root_pem, leaf_pem, encrypted_key, created_at) values ($1, $2, $3, $4, $5) on conflict do nothing',
		[tx.firmId, made.rootPem, made.leafPem, encrypt(Buffer.from(made.leafKey), secretKey), now]
	);
}

/** Where something is sealed. */
export interface SealingPlace {
	db: Database;
	pdf: PdfWork;
	papers: PaperStore;
	secretKey: string;
}

/** How long what is signed waits for a service for time stamps that does not answer, in milliseconds. */
const STAMP_WAIT = 3600_000;

/** Whether a seal still waits for its time stamp: for an hour from the last signature, after which it is made without one. */
export const stampNeeded = (signedAt: string, now: string): boolean => Date.parse(now) - Date.parse(signedAt) < STAMP_WAIT;

/** The firm's certificate and key for sealing. @throws Error if it has none, which set-up sees to */
export async function readSealKey(tx: Tx, secretKey: string): Promise<{ leafPem: string; leafKey: Uint8Array }> {
	const key = await tx.first<{ leaf_pem: string; encrypted_key: Buffer }>('select leaf_pem, encrypted_key from seal_certificate');
	if (!key) throw new Error('the firm has no certificate to seal with');
	return { leafPem: key.leaf_pem, leafKey: new Uint8Array(decrypt(key.encrypted_key, secretKey)) };
}

/** The root certificate with which anybody can check the firm's seals. */
export async function readRootCertificate(tx: Tx): Promise<string | null> {
	return (await tx.first<{ root_pem: string }>('select root_pem from seal_certificate'))?.root_pem ?? null;
}
