import { z } from 'zod';
import { DomainError } from '../errors/domain-error';

/** Parts of the portal besides what is asked just now, each of which the firm may turn off for all or for one client. */
export const PORTAL_AREAS = ['papers', 'letters', 'facts', 'forms'] as const;
export type PortalArea = (typeof PORTAL_AREAS)[number];

/** What each is, in the words of the desk. */
export const PORTAL_AREA_WORDS: Record<PortalArea, string> = {
	papers: 'papers that we show them, and folders to add to',
	letters: 'signed letters, to read and download again',
	facts: 'what the firm knows about them, to put right',
	forms: 'forms with which they ask us for something'
};

/** A client's own choices; what is not here follows the firm's. */
export const clientAreasSchema = z.partialRecord(z.enum(PORTAL_AREAS), z.boolean()).catch({});
export type ClientAreas = z.output<typeof clientAreasSchema>;

/** What the firm chose for all its clients. */
export interface FirmAreas {
	/** areas nobody has */
	off: readonly string[];
	/** ids of the services whose clients alone have an area; for an area that is not named here, every client */
	services: Partial<Record<PortalArea, string[]>>;
}

export const areaServicesSchema = z.partialRecord(z.enum(PORTAL_AREAS), z.array(z.string())).catch({});

/** For whom an area is: everybody, nobody, or clients with one of some services. */
export const FOR_WHOM = ['all', 'services', 'nobody'] as const;

/** Whether a client has an area, its own choice left aside: this is what their services propose. */
export function proposedArea(area: PortalArea, firm: FirmAreas, clientServices: readonly string[]): boolean {
	const services = firm.services[area];
	return !firm.off.includes(area) && (!services || services.some((service) => clientServices.includes(service)));
}

/** Whether a client has an area: what was chosen for them, else what their services propose. */
export function hasArea(area: PortalArea, firm: FirmAreas, own: ClientAreas, clientServices: readonly string[]): boolean {
	return own[area] ?? proposedArea(area, firm, clientServices);
}

/**
 * The form of the firm's areas: for whom each is, and for which services.
 * @throws DomainError invalid if an area is for some services and none is chosen
 */
export function readFirmAreasForm(form: Pick<FormData, 'get' | 'getAll'>): FirmAreas {
	const areas = { off: [] as PortalArea[], services: {} as FirmAreas['services'] };
	for (const area of PORTAL_AREAS) {
		const whom = z.enum(FOR_WHOM).parse(form.get(`for-${area}`));
		if (whom === 'nobody') areas.off.push(area);
		if (whom !== 'services') continue;
		const services = z.array(z.uuid()).parse(form.getAll(`services-${area}`));
		if (services.length === 0)
			throw new DomainError('invalid', `Choose at least one service whose clients find ${PORTAL_AREA_WORDS[area]}.`, {
				[`for-${area}`]: 'Choose at least one service.'
			});
		areas.services[area] = services;
	}
	return areas;
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
