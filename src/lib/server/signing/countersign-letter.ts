import { DomainError } from '$lib/core/errors/domain-error';
import { whoIsNext } from '$lib/core/signing/routing';
import type { Signature } from '$lib/core/signing/signature';
import { saying } from '$lib/words/sayings';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { eventAbout, lockItem } from '../items/change-item';
import type { Tx } from '../platform/db/database';
import { lockLetter, readSigners, requireDrawable, requireValues, signing, writeSignature } from './sign-letter';

/**
 * Countersigns a letter for the firm. When all have signed, the worker seals it and sends everybody their copy.
 * @param input.sha256 of the letter that was shown, in hexadecimal
 * @throws DomainError changed_meanwhile; not_allowed if somebody else of the firm is named to sign it
 */
export async function countersignLetter(
	tx: Tx,
	actor: Actor,
	input: { itemId: string; signature: Signature; sha256: string; values?: Readonly<Record<string, string>> }
): Promise<void> {
	requireStaff(actor, 'countersign');
	requireDrawable(input.signature.name);
	const item = await lockItem(tx, input.itemId);
	const letter = await lockLetter(tx, item.id);
	if (letter.sha256 !== input.sha256)
		throw new DomainError('changed_meanwhile', 'This is not the letter you were shown. Open it again and read it before you sign.');
	const signers = await readSigners(tx, letter.id);
	const firms = signing(signers).filter(({ side }) => side === 'firm');
	const turn = firms.filter((signer) => signer.state === 'asked' || whoIsNext(signing(signers)).includes(signer));
	if (letter.state !== 'signed' || turn.length === 0)
		throw new DomainError('changed_meanwhile', saying('wrong.letter.moved', { state: letter.state }));
	const own = turn.find(({ staff_id }) => staff_id === actor.id) ?? turn.find(({ staff_id }) => staff_id === null);
	if (!own) throw new DomainError('not_allowed', `${turn[0].name} is named to sign this. Ask them, or take it over from them first.`);
	const staff = await tx.first<{ email: string }>('select email::text from staff where id = $1', [actor.id]);
	const values = requireValues(letter.places, own.key, input.values ?? {});
	await writeSignature(tx, actor, letter, signers, own, { signature: input.signature, email: staff!.email, consent: '', values });
	await recordEvent(tx, actor, {
		verb: 'letter_countersigned',
		...eventAbout(item),
		details: { title: item.title, method: input.signature.method, as: input.signature.name }
	});
}

/**
 * Takes over what somebody else of the firm was named to sign: they are away, and it is signed under another name.
 * @throws DomainError changed_meanwhile if it waits for nobody of the firm, or for this person already
 */
export async function takeOverSigning(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	requireStaff(actor, 'countersign');
	const item = await lockItem(tx, itemId);
	const letter = await lockLetter(tx, item.id);
	const open = signing(await readSigners(tx, letter.id)).filter(({ side, state }) => side === 'firm' && (state === 'asked' || state === 'waits'));
	const theirs = open.find(({ staff_id }) => staff_id !== null && staff_id !== actor.id);
	if (letter.state !== 'signed' || !theirs || open.some(({ staff_id }) => staff_id === actor.id))
		throw new DomainError('changed_meanwhile', saying('wrong.letter.moved', { state: letter.state }));
	await tx.rows('update letter_signer set staff_id = $2, name = $3 where id = $1', [theirs.id, actor.id, actor.name]);
	await recordEvent(tx, actor, { verb: 'letter_taken_over', ...eventAbout(item), details: { title: item.title, from: theirs.name } });
}
