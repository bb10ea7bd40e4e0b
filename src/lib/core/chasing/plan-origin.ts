/** Because of what something is chased by its plan: chosen for it or its request, as its questionnaire, list, service, person or client has it, or since a call. */
export const PLAN_ORIGINS = ['line', 'request', 'questionnaire', 'list', 'service', 'contact', 'client', 'call'] as const;
export type PlanOrigin = (typeof PLAN_ORIGINS)[number];

/** A plan that holds, and because of what. */
export interface HoldingPlan {
	/** its key; null for the usual one */
	key: string | null;
	/** null for the usual one, and where it was not kept */
	from: PlanOrigin | null;
	/** what the questionnaire, list, service, person or client was called */
	named: string | null;
}

/** Why a plan holds, after its name: "as the list “Month end” has it". */
export function planOriginInWords({ key, from, named }: HoldingPlan): string {
	switch (from) {
		case 'line':
			return 'chosen for this one thing';
		case 'request':
			return 'chosen when it was asked';
		case 'questionnaire':
			return `as the questionnaire “${named}” has it`;
		case 'list':
			return `as the list “${named}” has it`;
		case 'service':
			return `as the service “${named}” has it`;
		case 'contact':
			return `as chosen for ${named}`;
		case 'client':
			return `as chosen for ${named}`;
		case 'call':
			return 'since a call: they will not do it';
		case null:
			return key === null || key === 'usual' ? 'the firm’s usual one' : 'chosen when it was asked';
	}
}
