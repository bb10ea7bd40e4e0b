import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';

test('what the security document calls met stands in a place that is there', () => {
	const files = execFileSync('git', ['ls-files'], { encoding: 'utf8' }).split('\n');
	const rows = readFileSync('docs/security.md', 'utf8')
		.split('\n')
		.filter((line) => /^\| \d/.test(line))
		.map((line) => line.split('|').map((cell) => cell.trim()));
	expect(rows.length).toBeGreaterThan(120);
	for (const [, requirement, state, where] of rows) {
		expect(['met', '—', 'open'], requirement).toContain(state);
		expect(where, requirement).not.toBe('');
		for (const [, name] of where.matchAll(/`([\w./-]+\.(?:ts|js|svelte|md|json))`/g))
			expect(
				files.some((file) => file === name || file.endsWith(`/${name}`)),
				`${requirement}: ${name}`
			).toBe(true);
	}
});
