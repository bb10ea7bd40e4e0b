import { z } from 'zod';
import { signatureSchema } from '$lib/core/signing/signature';
import type { SigningWay } from '$lib/core/signing/ways';
import type { Actor } from '$lib/server/actor';
import type { Tx } from '$lib/server/platform/db/database';
import { noteShownWhole, signLetter } from '$lib/server/signing/sign-letter';
import { saying } from '$lib/words/sayings';
import { jsonField } from './form-errors';
import { placeValues } from './place-values';

/** Characters of a drawn signature, as JSON. */
const SIGNATURE_MAX = 400_000;
const signSchema = z.object({
	signature: z.string().max(SIGNATURE_MAX).optional(),
	/** where no scripts run the name is the signature */
	name: z.string().max(120).optional(),
	consent: z.literal('yes').optional(),
	readWhole: z.literal('yes').optional()
});

/**
 * What somebody of the client sends to sign a letter.
 * @returns what signs it, in a transaction that is theirs
 * @throws ZodError, DomainError invalid if it did not arrive whole
 */
export function signingForm(form: FormData): (tx: Tx, actor: Actor, itemId: string, by: SigningWay, secretKey: string) => Promise<void> {
	const values = Object.fromEntries(form);
	const { signature, name, consent, readWhole } = signSchema.parse(values);
	const made = signature === undefined ? { method: 'typed', name } : jsonField(form, 'signature', SIGNATURE_MAX, saying('wrong.letter.broken'));
	const mark = signatureSchema.parse(made);
	return async (tx, actor, itemId, by, secretKey) => {
		// where no scripts run, nothing sees the end of the letter come into sight
		if (readWhole) await noteShownWhole(tx, actor, itemId, 'said');
		const filled = await placeValues(tx, itemId, values);
		await signLetter(tx, actor, { itemId, signature: mark, consent: consent === 'yes', values: filled, by }, secretKey);
	};
}
