import { error } from '@sveltejs/kit';
import { loadFirm } from '$lib/server/firms/firm';
import { house } from '$lib/server/the-house';

/** The firm behind a portal's address, with no more than its brand. */
export const load = async ({ params, locals }) => {
	const { db } = await house();
	const id = (await db.ask<{ id: string | null }>('select find_firm_by_slug($1) as id', [params.firm]))[0]?.id;
	if (!id) error(404, 'There is nothing here.');
	const firm = await db.inFirm(id, loadFirm);
	return {
		brand: { name: firm.name, color: firm.color, welcome: firm.welcome, timeZone: firm.calendar.timeZone },
		home: `/portal/${firm.slug}`,
		locale: locals.signedIn?.locale ?? firm.locale
	};
};
