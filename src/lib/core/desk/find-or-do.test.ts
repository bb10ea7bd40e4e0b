import { describe, expect, it } from 'vitest';
import { actForClient, findDestinations } from './find-or-do';

const names = (typed: string, role: Parameters<typeof findDestinations>[1] = 'coordinator') =>
	findDestinations(typed, role, 5).map((one) => one.name);

describe('find or do', () => {
	it('finds pages and acts by the beginnings of their words, in any order, and by other words for them', () => {
		expect(names('alm')).toEqual(['Almanac']);
		expect(names('list imp')).toEqual(['Import a list of clients']);
		expect(names('csv')).toEqual(['Export clients as CSV', 'Import a list of clients']);
		expect(names('SETTINGS')).toEqual(['Firm']);
		expect(names('réquest lists')).toEqual(['Request lists']);
	});
	it('offers nobody what their role does not do, and nothing for one letter', () => {
		expect(names('new', 'coordinator')).toEqual(['Add a client']);
		expect(names('new', 'filing')).toEqual([]);
		expect(names('new', null)).toEqual([]);
		expect(names('a')).toEqual([]);
		expect(names('x'.repeat(2_000_000))).toEqual([]);
	});
	it('takes a verb before a name as something to do for that client', () => {
		const gull = { id: '1', name: 'Gull & String Kites' };
		const found = actForClient('ask gull kites', 'bookkeeper')!;
		expect([found.client, found.act(gull)]).toEqual(['gull kites', { name: 'Ask Gull & String Kites for something', path: '/desk/clients/1/ask' }]);
		expect(actForClient('Invit gull', 'filing')!.act(gull).path).toBe('/desk/clients/1#people');
		expect(actForClient('ask gull', 'filing')).toBeNull();
		expect(actForClient('merge gull', 'bookkeeper')).toBeNull();
		expect(actForClient('gull kites', 'coordinator')).toBeNull();
		expect(actForClient('ask', 'coordinator')).toBeNull();
	});
});
