import { expect, test } from 'vitest';
import { firmFacts, READY_MADE_FACTS } from '../facts/fact-definition';
import { mergeFieldsOf, type LetterBlock, type LetterDocument } from '../letters/letter-document';
import type { ClientKnown, Condition } from './conditions';
import { letterAsItComes } from './letter-as-it-comes';

const FACTS = firmFacts(READY_MADE_FACTS);
const CLIENT: ClientKnown = { kind: 'business', services: ['Payroll'], facts: { sales_tax: 'yes' }, today: '2026-05-04' };
const field = (name: string): LetterBlock & { type: 'paragraph' } => ({ type: 'paragraph', content: [{ type: 'mergeField', attrs: { name } }] });
const part = (name: string, onlyIf: Condition): LetterBlock => ({ type: 'part', attrs: { onlyIf }, content: [field(name)] });
const fact = (name: string, value: string): Condition => ({ kind: 'fact', fact: name, is: 'equals', value });

test('fields are asked for of the parts that come, or may come, and of no other', () => {
	const document: LetterDocument = {
		type: 'doc',
		content: [
			field('outside'),
			part('has_it', { kind: 'service', name: 'Payroll', is: 'has' }),
			part('has_it_not', { kind: 'service', name: 'Year end', is: 'has' }),
			part('so', fact('sales_tax', 'yes')),
			part('not_so', fact('sales_tax', 'no')),
			part('not_known', fact('payroll', 'yes')),
			// it is known, and not shown to whoever writes
			part('hidden', { kind: 'fact', fact: 'method', is: 'known', value: '' })
		]
	};
	const asked = (hidden: string[]) => mergeFieldsOf(letterAsItComes(document, CLIENT, hidden, FACTS));
	expect(asked([])).toEqual(['outside', 'has_it', 'so', 'not_known']);
	expect(asked(['method'])).toEqual(['outside', 'has_it', 'so', 'not_known', 'hidden']);
});
