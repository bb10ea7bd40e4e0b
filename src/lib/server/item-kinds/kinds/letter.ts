import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { saying } from '$lib/words/sayings';
import { documentsOf, named, requireSigners } from '../../letters/letter-signers';
import { prepareLetter, requireFilledLetter, type PreparedLetter } from '../../letters/prepare-letter';
import { stopLetters } from '../../letters/stop-letters';
import type { Tx } from '../../platform/db/database';
import { enqueue } from '../../platform/queue';
import type { ServerItemKind } from '../item-kind';

/** @throws DomainError not_found for a file that is not the firm's, or is no PDF */
async function requireDocuments(tx: Tx, ids: readonly string[]): Promise<void> {
	if (ids.length === 0) return;
	const known = await tx.first<{ n: number }>(`select count(*) n from attachment where id = any ($1) and content_type = 'application/pdf'`, [ids]);
	if (known!.n !== new Set(ids).size) throw new DomainError('not_found', 'A document to sign is not there any more. Take it out, and add it again.');
}

export const letter: ServerItemKind<'letter', PreparedLetter> = {
	// a letter is signed, in steps of its own
	handIn: async () => {
		throw new DomainError('invalid', saying('wrong.item.signOrDecline'));
	},
	beforeSending: async (tx, line, { clientId, firm, to, now }) => {
		const documents = documentsOf(line);
		await requireDocuments(tx, documents);
		if (documents.length === 0) requireFilledLetter(firm, to, line, now);
		const { signing } = line.spec;
		if (!signing) return line;
		const signers = await requireSigners(tx, firm, clientId, signing, to);
		return { ...line, spec: { signing: { ...signing, signers: named(signers) } } };
	},
	prepare: (line, by) => prepareLetter(line, by),
	discard: (prepared, place) => place.papers.remove(prepared.storageKey),
	afterWriting: async (tx, item, _line, prepared, now) => {
		if (!prepared) throw new Error('a letter is sent with what was composed');
		const letterId = randomUUID();
		await tx.rows(
			`insert into letter (id, firm_id, client_id, item_id, document, state, storage_key, sha256, pages, signature_page, signature_top, documents, places, lapses_on)
			values ($1, $2, $3, $4, $5, 'sent', $6, $7, $8, $9, $10, $11, $12, $13)`,
			[
				letterId,
				tx.firmId,
				item.clientId,
				item.id,
				JSON.stringify(prepared.document),
				prepared.storageKey,
				prepared.sha256,
				prepared.pages,
				prepared.signaturePage,
				prepared.signatureTop,
				JSON.stringify(prepared.documents),
				JSON.stringify(prepared.places),
				prepared.lapsesOn
			]
		);
		await tx.rows(
			`insert into letter_signer (id, firm_id, client_id, letter_id, key, position, rank, side, copy, contact_id, staff_id, name, item_id, state, asked_at)
			select gen_random_uuid(), $1, $2, $3, s.key, s.position, s.rank, s.side, s.copy, s.contact_id, s.staff_id, s.name,
				case when s.contact_id = i.contact_id and not s.copy then i.id end,
				case when s.contact_id = i.contact_id and not s.copy then 'asked' else 'waits' end,
				case when s.contact_id = i.contact_id and not s.copy then $6::timestamptz end
			from item i, jsonb_to_recordset($5) as s (key text, position int, rank int, side text, copy boolean, contact_id uuid, staff_id uuid, name text)
			where i.id = $4`,
			[
				tx.firmId,
				item.clientId,
				letterId,
				item.id,
				JSON.stringify(
					prepared.signers.map((signer, at) => ({ ...signer, position: at + 1, contact_id: signer.contactId, staff_id: signer.staffId }))
				),
				now
			]
		);
		// each of several signs what is theirs: nobody answers for another
		if (prepared.signers.filter(({ side, copy }) => side === 'client' && !copy).length > 1) {
			await tx.rows('update item set own = true where id = $1', [item.id]);
			await enqueue(tx, 'letter_goes_on', { firmId: tx.firmId, letterId });
		}
	},
	onWaiving: stopLetters,
	onUndoSending: stopLetters
};
