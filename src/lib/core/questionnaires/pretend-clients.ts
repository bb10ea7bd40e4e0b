import type { ClientKnown } from '../requests/conditions';

/** A client that there is not, for trying a questionnaire. */
export interface PretendClient {
	key: string;
	/** "a sole trader without staff" */
	words: string;
	known: Omit<ClientKnown, 'today'>;
}

/** Facts are those that ship with the product; of the firm's own nothing is known. */
export const PRETEND_CLIENTS: readonly PretendClient[] = [
	{ key: 'nothing', words: 'a business we know nothing about', known: { kind: 'business', services: [], facts: {} } },
	{
		key: 'sole-trader',
		words: 'a sole trader without staff',
		known: { kind: 'business', services: [], facts: { legal_form: 'sole_trader', payroll: 'no', sales_tax: 'no', method: 'cash' } }
	},
	{
		key: 'company',
		words: 'a company with staff',
		known: { kind: 'business', services: [], facts: { legal_form: 'company', payroll: 'yes', employees: '6', sales_tax: 'yes', year_end: '12-31' } }
	},
	{ key: 'household', words: 'a household', known: { kind: 'person', services: [], facts: {} } }
];
