import { z } from 'zod';
import { optionalText } from '../people/plain-fields';

/** Most websites that may show one page in a frame. */
const SITES_MAX = 10;
/** What Content-Security-Policy takes as a source: a site by its scheme, name and port, without a path. */
const SITE = /^https:\/\/(\*\.)?[a-z0-9]([a-z0-9-]*[a-z0-9])?(\.[a-z0-9]([a-z0-9-]*[a-z0-9])?)+(:\d{2,5})?$/;

/**
 * A website as somebody writes it down, as an origin that may show a page in a frame (CSP Level 3, `frame-ancestors`).
 * @returns null if it is none; `https` is assumed, a path is left out
 */
export function siteOf(text: string): string | null {
	const written = text.trim().toLowerCase();
	const whole = /^[a-z]+:\/\//.test(written) ? written : `https://${written}`;
	const origin = /^[a-z]+:\/\/[^/?#\s]*/.exec(whole)?.[0] ?? '';
	return SITE.test(origin) && origin.length <= 200 ? origin : null;
}

const sitesField = z
	.string()
	.max(4000, 'That is too much for a list of websites.')
	.transform((text, context) => {
		const written = text.split(/[\s,;]+/).filter(Boolean);
		const sites = new Set<string>();
		for (const one of written) {
			const site = siteOf(one);
			if (site) sites.add(site);
			else
				context.addIssue({
					code: 'custom',
					message: `“${one.slice(0, 60)}” is not the address of a website. Write it as in https://www.firm.example, one in a line.`
				});
		}
		if (sites.size > SITES_MAX) context.addIssue({ code: 'custom', message: `At most ${SITES_MAX} websites.` });
		return [...sites];
	});

/** Most files that somebody adds to what they answered, and the largest of them, in bytes. */
export const PUBLIC_FILES_MOST = 10;
export const PUBLIC_FILE_MAX_BYTES = 20 * 1024 * 1024;

/** How a page of a questionnaire is opened to anybody. */
export const publicPageSchema = z.object({
	name: z
		.string()
		.transform((text) => nameInAddress(text))
		.pipe(z.string().min(2, 'Write a short name for the address: letters, digits and hyphens.').max(60, 'Please keep it to 60 characters.')),
	who: z.enum(['asked', 'optional'], 'Choose whether people say who they are.'),
	thanks: optionalText('the words of thanks', 600).transform((text) => text ?? ''),
	sites: sitesField
});
export type PublicPageSettings = z.output<typeof publicPageSchema>;

/** A name as it stands in an address: plain letters, digits and hyphens. */
export function nameInAddress(text: string): string {
	return text
		.normalize('NFKD')
		.replace(/\p{M}/gu, '')
		.toLowerCase()
		.replace(/[^a-z0-9]+/g, '-')
		.replace(/^-+|-+$/g, '')
		.slice(0, 60)
		.replace(/-+$/, '');
}

/** Seconds that a person takes at least from opening a page to sending it. */
const LEAST_SECONDS = 3;
/** Days for which a page that stands open can be sent. */
const MOST_DAYS = 30;

/** Whether answers came too fast for a person, or from a page that was opened too long ago. */
export function pace(openedAt: string, now: string): 'person' | 'too_fast' | 'too_old' {
	const seconds = (Date.parse(now) - Date.parse(openedAt)) / 1000;
	if (seconds < LEAST_SECONDS) return 'too_fast';
	return seconds > MOST_DAYS * 86_400 ? 'too_old' : 'person';
}

/** Days for which whoever answered can ask for a copy. */
export const RECEIPT_DAYS = 2;
/** Minutes for which a code can be typed, and how often. */
export const CODE_MINUTES = 30;
export const CODE_TRIES = 6;

/** What becomes of what came in. */
export const OUTCOMES = {
	client: 'made a client',
	joined: 'joined to a client',
	kept: 'kept among the answers',
	put_away: 'put away'
} as const;
export type Outcome = keyof typeof OUTCOMES;
