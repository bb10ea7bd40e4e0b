import { expect, it } from 'vitest';
import { offBy, STATEMENT_VALUES } from '$lib/core/statements/printed/read-printed';
import { inventedStatements } from '../../testing/printed-statements';
import { readPaperWords } from './read-words';

const bare = (reading: object) => Object.fromEntries(STATEMENT_VALUES.map((name) => [name, (reading as never)[name]]));

it.each(inventedStatements().map((statement) => [statement.name, statement] as const))('reads %s as it is printed', async (_, statement) => {
	const read = await readPaperWords(await statement.pdf(), []);
	if (statement.name === 'loan-locked.pdf') return expect(read).toBeNull();
	const values = read!.statements.map((reading) => Object.fromEntries(STATEMENT_VALUES.map((name) => [name, reading[name]?.value ?? null])));
	expect(values).toEqual(statement.says.map(bare));
	if (statement.name === 'skerry-scan.pdf') expect(read!.words).toBeNull();
	for (const { opening, closing, lines } of read!.statements)
		if (lines) expect(offBy({ opening: opening!.value, closing: closing!.value, lines })).toBe('0.00');
});
