import { expect, test } from 'vitest';
import { ROLES } from '../people/roles';
import { countTheirs, isTheirs, ROUNDS_SECTIONS, type RoundsSection } from './sections';

const one = Object.fromEntries(ROUNDS_SECTIONS.map(({ section }) => [section, 1])) as Record<RoundsSection, number>;

test('what is counted as somebody’s is what their role lets them deal with', () => {
	expect(Object.fromEntries(ROLES.map((role) => [role, countTheirs(role, one)]))).toEqual({
		administrator: ROUNDS_SECTIONS.length,
		partner: ROUNDS_SECTIONS.length,
		coordinator: ROUNDS_SECTIONS.length,
		// neither countersigns nor invites
		bookkeeper: ROUNDS_SECTIONS.length - 4,
		// gives papers their place
		filing: 2
	});
	expect(isTheirs('bookkeeper', 'to_countersign')).toBe(false);
	expect(isTheirs(null, 'handed_in')).toBe(false);
});
