import { firmOfPortal } from '$lib/server/desk-request';
import { doReset, loadReset } from '$lib/server/password-form';

export const load = (event) => loadReset(event, 'contact');

export const actions = {
	default: async (event) => {
		const { firm, locale } = await firmOfPortal(event);
		return doReset(event, { kind: 'contact', locale, home: `/portal/${firm.slug}` });
	}
};
