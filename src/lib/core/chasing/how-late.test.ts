import { expect, test } from 'vitest';
import { byLateness } from './how-late';

test('late, due soon and not yet due are three things; the day itself is not late', () => {
	const on = (dueOn: string | null) => ({ dueOn });
	const items = ['2026-05-14', '2026-05-15', '2026-05-22', '2026-05-23', null].map(on);
	expect(byLateness(items, '2026-05-15')).toEqual({
		late: [on('2026-05-14')],
		soon: [on('2026-05-15'), on('2026-05-22')],
		later: [on('2026-05-23'), on(null)]
	});
});
