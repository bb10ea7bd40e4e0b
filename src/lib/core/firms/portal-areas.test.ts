import { expect, test } from 'vitest';
import { hasArea, proposedArea } from './portal-areas';

test('an area is there for all, for clients with one of its services, or for nobody; what was chosen for a client goes before', () => {
	const services = { letters: ['payroll', 'tax'] };
	expect(proposedArea('letters', { off: [], services: {} }, [])).toBe(true);
	expect(proposedArea('letters', { off: [], services }, ['tax'])).toBe(true);
	expect(proposedArea('letters', { off: [], services }, ['bookkeeping'])).toBe(false);
	expect(proposedArea('letters', { off: ['letters'], services }, ['tax'])).toBe(false);
	expect(hasArea('letters', { off: ['letters'], services: {} }, { letters: true }, [])).toBe(true);
	expect(hasArea('letters', { off: [], services: {} }, { letters: false }, [])).toBe(false);
});
