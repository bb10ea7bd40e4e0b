import { languageField } from '$lib/core/people/language-field';
import { firmOfPortal } from '$lib/web/desk-request';
import { logoPath, picturePath } from '$lib/server/firms/firm';
import { setVisitCookie } from '$lib/web/cookies';

/** The firm behind a portal's address, with no more than its brand, as whoever looks sees it. */
export const load = async (event) => {
	const { firm, locale } = await firmOfPortal(event);
	event.locals.language = locale;
	// the sign-in page of the next visit looks as this one
	const { signedIn } = event.locals;
	if (!signedIn?.lookedAtBy && (signedIn || event.params.token))
		setVisitCookie(event.cookies, { brand: firm.brandId, language: languageField.parse(locale) });
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
