import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { letterStatesBefore } from '$lib/core/signing/letter-states';
import { saying } from '$lib/words/sayings';
import { prepareLetter, requireFilledLetter, type PreparedLetter } from '../../letters/prepare-letter';
import type { Tx } from '../../platform/db/database';
import type { ServerItemKind } from '../item-kind';

/** Nobody can sign it any more. */
async function withdraw(tx: Tx, itemIds: readonly string[]): Promise<void> {
	await tx.rows(`update letter set state = 'withdrawn' where item_id = any ($1) and state = any ($2)`, [itemIds, letterStatesBefore('withdraw')]);
}

export const letter: ServerItemKind<'letter', PreparedLetter> = {
	// a letter is signed, in steps of its own
	handIn: async () => {
		throw new DomainError('invalid', saying('wrong.item.signOrDecline'));
	},
	beforeSending: async (_tx, line, { firm, to, now }) => {
		requireFilledLetter(firm, to, line, now);
		return line;
	},
	prepare: (line, { place, firm, to, logo, now }) => prepareLetter(place, firm, to, logo, line, now),
	discard: (prepared, place) => place.papers.remove(prepared.storageKey),
	afterWriting: async (tx, item, _line, prepared) => {
		if (!prepared) throw new Error('a letter is sent with what was composed');
		await tx.rows(
			`insert into letter (id, firm_id, client_id, item_id, document, state, storage_key, sha256, pages, signature_page, signature_top)
			values ($1, $2, $3, $4, $5, 'sent', $6, $7, $8, $9, $10)`,
			[
				randomUUID(),
				tx.firmId,
				item.clientId,
				item.id,
				JSON.stringify(prepared.document),
				prepared.storageKey,
				prepared.sha256,
				prepared.pages,
				prepared.signaturePage,
				prepared.signatureTop
			]
		);
	},
	onWaiving: withdraw,
	onUndoSending: withdraw
};
