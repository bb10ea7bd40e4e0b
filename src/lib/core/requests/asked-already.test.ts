import { expect, test } from 'vitest';
import { askedAlready, type OpenThing } from './asked-already';

const open: OpenThing[] = [
	{ id: 'lease', title: 'Lease of the café', dueOn: '2026-05-11', accountId: null, periodTo: null, requestTitle: 'Getting started' },
	{ id: 'april', title: 'Statement April', dueOn: null, accountId: 'a', periodTo: '2026-04-30', requestTitle: 'Monthly' }
];
const line = (title: string, account: { id: string; to: string } | null = null) => ({ title, account });

test('the same words count whatever list they come from, and however they are written', () => {
	expect(askedAlready(line('LEASE of the Cafe.'), open)?.id).toBe('lease');
	expect(askedAlready(line('Lease of the shop'), open)).toBeNull();
	expect(askedAlready(line(' '), open)).toBeNull();
});
test('a statement is the same by account and period, not by its words', () => {
	expect(askedAlready(line('Bank statement', { id: 'a', to: '2026-04-30' }), open)?.id).toBe('april');
	expect(askedAlready(line('Statement April', { id: 'b', to: '2026-04-30' }), open)).toBeNull();
	expect(askedAlready(line('Statement April'), open)).toBeNull();
});
