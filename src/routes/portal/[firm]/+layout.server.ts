import { logoPath } from '$lib/server/firms/firm';
import { firmOfPortal } from '$lib/server/desk-request';

/** The firm behind a portal's address, with no more than its brand. */
export const load = async (event) => {
	const { firm, locale } = await firmOfPortal(event);
	return {
		brand: {
			logo: logoPath(firm),
			name: firm.name,
			color: firm.color,
			welcome: firm.welcome,
			practice: firm.isPractice,
			timeZone: firm.calendar.timeZone
		},
		home: `/portal/${firm.slug}`,
		locale
	};
};
