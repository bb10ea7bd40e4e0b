import { fieldsOf } from '$lib/core/signing/places';
import { readLetterPages } from '$lib/server/items/read-items';
import type { Tx } from '$lib/server/platform/db/database';
import { valuesSchema } from '$lib/server/signing/sign-letter';

/** What stands in the fields of a signer's places, by label: in a form they are called by their number, `place.0` and so on. */
export async function placeValues(tx: Tx, itemId: string, form: Readonly<Record<string, unknown>>, signer?: string): Promise<Record<string, string>> {
	const pages = await readLetterPages(tx, itemId);
	const key = signer ?? pages?.own;
	const fields = key ? fieldsOf(pages?.places ?? [], key) : [];
	return valuesSchema.parse(
		Object.fromEntries(
			fields.flatMap(({ label }, at) => {
				const value = form[`place.${at}`];
				return typeof value === 'string' ? [[label, value]] : [];
			})
		)
	);
}
