import type { FirmCalendar } from '$lib/core/calendar/firm-calendar';
import { z } from 'zod';
import { chasePlanSchema, furtherChasePlanSchema, type ChasePlan, type FurtherChasePlan } from '$lib/core/chasing/chase-plan';
import type { ReminderPace } from '$lib/core/chasing/pace';
import { currencyOf } from '$lib/core/firms/currency';
import { passingShade } from '$lib/core/firms/brand-color';
import type { Language } from '$lib/core/people/languages';
import type { Database, Tx } from '../platform/db/database';

export interface Firm {
	id: string;
	slug: string;
	name: string;
	address: string;
	country: string;
	/** in which the firm's own people read dates and numbers */
	locale: string;
	/** of whoever has not chosen a language: visitors of the portal, and contacts who are added */
	clientLanguage: Language;
	/** the brand it is shown in; null for its own */
	brandId: string | null;
	welcome: string;
	/** address of a video beside the welcome */
	welcomeVideo: string | null;
	/** stands in the address of the picture beside the welcome */
	welcomePicture: string | null;
	/** the colour as the firm chose it */
	brandColor: string;
	/** the same, darkened where its contrast fails */
	color: string;
	/** stands in the address of the logo; null without one */
	logoVersion: string | null;
	mailFrom: string;
	/** the money it counts in (ISO 4217): as chosen, else that of its country */
	currency: string;
	/** where clients call (E.164); null until it is given */
	phone: string | null;
	isDemo: boolean;
	/** beside a real firm, for practising: nothing leaves the building */
	isPractice: boolean;
	calendar: FirmCalendar;
	chasePlan: ChasePlan;
	/** plans beside the usual one, chosen for a list, a client or a request */
	furtherPlans: FurtherChasePlan[];
	/** how often one person is reminded at most */
	pace: ReminderPace;
	/** business days after which an invitation is chased */
	invitationSteps: number[];
}

interface FirmRow extends Pick<Firm, 'id' | 'slug' | 'name' | 'address' | 'country' | 'locale' | 'welcome'> {
	client_language: Language;
	welcome_video: string | null;
	welcome_picture: string | null;
	brand_color: string;
	logo_version: string | null;
	mail_from: string;
	phone: string | null;
	currency: string | null;
	is_demo: boolean;
	practice_of_id: string | null;
	time_zone: string;
	business_days: number[];
	send_from: string;
	send_to: string;
	holidays: string[];
	chase_plan_name: string;
	invitation_steps: number[];
	chase_steps: unknown;
	further_chase_plans: unknown;
	reminder_gap_days: number;
	reminders_per_week: number;
}

/** The path of the firm's logo, or null. */
export function logoPath(firm: Pick<Firm, 'slug' | 'logoVersion'>): string | null {
	return picturePath(firm, firm.logoVersion);
}

/** The path of a picture of the firm, or null. */
export function picturePath(firm: Pick<Firm, 'slug'>, version: string | null): string | null {
	return version && `/portal/${firm.slug}/logo/${version}`;
}

/**
 * Finds the firm behind a short name as it stands in the addresses of portals, also behind one it had before.
 * @returns the firm, with the short name it has now; null if no firm has or had this one
 */
export async function findShortName(db: Pick<Database, 'queryOutsideFirm'>, shortName: string): Promise<{ firmId: string; slug: string } | null> {
	const [known] = await db.queryOutsideFirm<{ firm_id: string; slug: string }>('select firm_id, slug from find_short_name($1)', [shortName]);
	return known ? { firmId: known.firm_id, slug: known.slug } : null;
}

/** The firm whose data the transaction sees, with its calendar and chase plan. */
export async function loadFirm(tx: Tx): Promise<Firm> {
	const row = await tx.first<FirmRow>(
		`select f.*, array(select day::text from holiday h where h.firm_id = f.id order by day) holidays from firm f where f.id = $1`,
		[tx.firmId]
	);
	if (!row) throw new Error('the firm does not exist');
	return {
		id: row.id,
		slug: row.slug,
		name: row.name,
		address: row.address,
		country: row.country,
		locale: row.locale,
		clientLanguage: row.client_language,
		brandId: null,
		welcome: row.welcome,
		welcomeVideo: row.welcome_video,
		welcomePicture: row.welcome_picture,
		brandColor: row.brand_color,
		color: passingShade(row.brand_color),
		logoVersion: row.logo_version,
		mailFrom: row.mail_from,
		phone: row.phone,
		currency: row.currency ?? currencyOf(row.country),
		isDemo: row.is_demo,
		isPractice: row.practice_of_id !== null,
		calendar: { timeZone: row.time_zone, businessDays: row.business_days, holidays: row.holidays, sendFrom: row.send_from, sendTo: row.send_to },
		chasePlan: chasePlanSchema.parse({ name: row.chase_plan_name, steps: row.chase_steps }),
		furtherPlans: z.array(furtherChasePlanSchema).parse(row.further_chase_plans),
		pace: { gapDays: row.reminder_gap_days, perWeek: row.reminders_per_week },
		invitationSteps: row.invitation_steps
	};
}
