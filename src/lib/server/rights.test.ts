import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { MAY, ROLES, type Act, type Role } from '$lib/core/people/roles';

/** A use case that begins with asking a right, as it stands in the source. */
interface UseCase {
	file: string;
	name: string;
	/** an act of the firm's people, or whose it is */
	asks: Act | 'contact' | 'reader';
	params: string[];
}

/** Parts the parameters of a function: commas inside brackets, braces and generics part nothing. */
function paramsOf(text: string): string[] {
	const params = [''];
	let depth = 0;
	for (const sign of text.replaceAll('=>', '')) {
		if ('([{<'.includes(sign)) depth++;
		if (')]}>'.includes(sign)) depth--;
		if (sign === ',' && depth === 0) params.push('');
		else params[params.length - 1] += sign;
	}
	return params.map((param) => param.trim().split(/[?:=]/)[0].trim()).filter(Boolean);
}

const modules = import.meta.glob<Record<string, unknown>>([
	'./**/*.ts',
	'!./**/*.test.ts',
	'!./testing/**',
	'!./actor.ts',
	'!./**/standin.ts',
	'!./**/*-thread.ts'
]);
const HEAD = /export (?:async )?function (\w+)(?:<[^>]*>)?\(([^]*?)\): [^\n]*\{\n([^]*?)\n\}\n/g;
const useCases: UseCase[] = Object.keys(modules).flatMap((file) => {
	const source = readFileSync(join(import.meta.dirname, file), 'utf8');
	return [...source.matchAll(HEAD)].flatMap(([, name, params, body]) => {
		const [, whom, act] = /require(Staff|Contact|Reader)\(actor(?:, '(\w+)')?\)/.exec(body) ?? [];
		return whom ? [{ file, name, asks: (act ?? whom.toLowerCase()) as UseCase['asks'], params: paramsOf(params) }] : [];
	});
});

/** Stands for everything a use case is given: nothing of it is looked at before the right is asked. */
const untouched = new Proxy(() => undefined, {
	get(_, key) {
		throw new Error(`“${String(key)}” was looked at before the right was asked`);
	},
	apply() {
		throw new Error('something was called before the right was asked');
	}
});
const actorOf = (kind: 'staff' | 'contact' | 'nobody', role: Role | null = null) => ({
	kind,
	id: kind === 'nobody' ? null : 'x',
	name: 'x',
	role,
	now: '2026-05-04T13:00:00Z',
	ip: '',
	userAgent: ''
});
const STAFF = ROLES.map((role) => actorOf('staff', role));
/** Everybody who may not. */
const refusedTo = (asks: UseCase['asks']) => [
	actorOf('nobody'),
	...(asks === 'reader' ? [] : asks === 'contact' ? STAFF : [actorOf('contact'), ...STAFF.filter(({ role }) => !MAY[role!].includes(asks))])
];

test('there are as many use cases as one would think', () => expect(useCases.length).toBeGreaterThan(150));

test.each(useCases.map((one) => [`${one.name} in ${one.file}`, one] as const))('%s asks its right first', async (_, { file, name, asks, params }) => {
	const run = (await modules[file]())[name] as (...given: unknown[]) => unknown;
	for (const actor of refusedTo(asks)) {
		const given = params.map((param) => (param === 'actor' ? actor : untouched));
		const refused = await Promise.resolve()
			.then(() => run(...given))
			.then(
				() => 'done',
				(error: { code?: string; message: string }) => error.code ?? error.message
			);
		expect(refused, `${asks} as ${actor.role ?? actor.kind}`).toBe('not_allowed');
	}
});
