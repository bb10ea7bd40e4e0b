import type { FactDefinition } from '$lib/core/facts/fact-definition';

/** What of the firm whoever writes lines and questions needs. */
export interface WritingPlace {
	/** of amounts, to begin with */ currency: string;
	timeZone: string;
	/** names of what the firm does */ services: readonly string[];
	/** what the firm wants to know of its clients, in the order of the record */ facts: readonly FactDefinition[];
}
