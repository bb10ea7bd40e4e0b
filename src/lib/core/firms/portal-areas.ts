import { z } from 'zod';

/** Parts of the portal besides what is asked just now, each of which the firm may turn off for all or for one client. */
export const PORTAL_AREAS = ['letters', 'facts'] as const;
export type PortalArea = (typeof PORTAL_AREAS)[number];

/** What each is, in the words of the desk. */
export const PORTAL_AREA_WORDS: Record<PortalArea, string> = {
	letters: 'signed letters, to read and download again',
	facts: 'what the firm knows about them, to put right'
};

/** A client's own choices; what is not here follows the firm's. */
export const clientAreasSchema = z.partialRecord(z.enum(PORTAL_AREAS), z.boolean()).catch({});
export type ClientAreas = z.output<typeof clientAreasSchema>;

/** Whether a client has an area. */
export function hasArea(area: PortalArea, off: readonly string[], own: ClientAreas): boolean {
	return own[area] ?? !off.includes(area);
}

/** The form of one client's areas: as the firm has them, on, or off. */
export function readAreasForm(fields: Readonly<Record<string, unknown>>): ClientAreas {
	return Object.fromEntries(
		PORTAL_AREAS.flatMap((area) => {
			const chosen = fields[`area-${area}`];
			return chosen === 'on' || chosen === 'off' ? [[area, chosen === 'on']] : [];
		})
	);
}
