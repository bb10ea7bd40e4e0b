import { firmOfPortal } from '$lib/server/desk-request';
import { logoPath, picturePath } from '$lib/server/firms/firm';

/** The firm behind a portal's address, with no more than its brand, as whoever looks sees it. */
export const load = async (event) => {
	const { firm, locale } = await firmOfPortal(event);
	return {
		brand: {
			logo: logoPath(firm),
			name: firm.name,
			color: firm.color,
			welcome: { words: firm.welcome, picture: picturePath(firm, firm.welcomePicture), video: firm.welcomeVideo },
			practice: firm.isPractice,
			timeZone: firm.calendar.timeZone
		},
		home: `/portal/${firm.slug}`,
		locale
	};
};
