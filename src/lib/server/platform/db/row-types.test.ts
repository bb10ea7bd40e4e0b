import { resolve } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { openTestContext, type TestContext } from '../../testing/test-firm';
import { typedStatements } from '../../testing/statements';

let context: TestContext;
beforeAll(async () => (context = await openTestContext()));
afterAll(() => context.close());

interface Column {
	name: string;
	tableID: number;
	columnID: number;
	dataTypeID: number;
}

/** Asks the database what a statement's rows would be, without running it. */
function describeStatement(client: pg.Client, text: string): Promise<Column[]> {
	return new Promise((done, failed) => {
		let columns: Column[] = [];
		let wrong: Error | null = null;
		client.query({
			submit(connection: { parse(q: object): void; describe(q: object): void; sync(): void }) {
				connection.parse({ name: '', text, types: [] });
				connection.describe({ type: 'S', name: '' });
				connection.sync();
			},
			handleRowDescription: (message: { fields: Column[] }) => void (columns = message.fields),
			handleNoData: () => undefined,
			handlePortalSuspended: () => undefined,
			handleCommandComplete: () => undefined,
			handleError: (error: Error) => void (wrong = error),
			handleReadyForQuery: () => (wrong ? failed(wrong) : done(columns))
		} as unknown as pg.Submittable);
	});
}

/** How node-postgres, as `database.ts` sets it up, gives a value of a type to the program. */
const AS: Record<string, string> = {
	bool: 'boolean',
	int2: 'number',
	int4: 'number',
	int8: 'number',
	float4: 'number',
	float8: 'number',
	json: 'unknown',
	jsonb: 'unknown',
	bytea: 'Buffer'
};

/** Columns that may be null in their table, and never are in this statement. */
const NEVER_NULL: Record<string, string> = {
	'chasing/chase-invitations.ts nextChaseOn': 'it is compared',
	'firms/portal-areas.ts sealedAt': 'a letter with a sealed file has been sealed at some time',
	'practice/practice.ts state': 'only practice workspaces are asked for, and these have one',
	'clients/import/undo-import.ts id': 'of the kind that is asked for',
	'statements/put-right.ts byId': 'only what somebody has put right is asked for',
	'papers/retention.ts destroyedAt': 'only what was destroyed is asked for',
	'papers/filing-rules.ts contactId': 'only rules that go by who sends are asked for',
	// columns of a view
	'papers/retention.ts heldBack': 'something exists or does not',
	'transactions/find-pairs.ts id': 'every paper has one',
	'transactions/find-pairs.ts clientId': 'every paper has one',
	'transactions/find-pairs.ts name': 'every paper has one',
	'transactions/find-pairs.ts note': 'every paper has one',
	'transactions/find-pairs.ts at': 'every paper has one',
	'transactions/papers-of-lines.ts id': 'every paper has one',
	'transactions/papers-of-lines.ts paperId': 'every paper has one',
	'transactions/papers-of-lines.ts name': 'every paper has one',
	'transactions/papers-of-lines.ts at': 'every paper has one',
	'statements/statement-grid.ts id': 'every statement has one',
	'statements/statement-grid.ts paperId': 'every statement has one',
	'statements/statement-grid.ts explained': 'it is never null in the table',
	'statements/statement-grid.ts settled': 'both halves of it are never null',
	'statements/statement-grid.ts accountId': 'only what has one is asked for',
	'statements/statement-grid.ts from': 'only what says its days is asked for, and an item of an account has its period',
	'statements/statement-grid.ts to': 'as from'
};
/** Statements that are put together from what is asked for: the tests of their use cases run them. */
const PUT_TOGETHER = [
	'clients/merge.ts',
	'clients/read-clients.ts',
	'firms/portal-areas.ts',
	'papers/client-papers.ts',
	'people/person.ts',
	'requests/read-asked.ts',
	'rounds/read-rounds.ts',
	'clients/import/undo-import.ts'
];

test('what the source says of the rows of a statement is what the database says', async () => {
	const statements = typedStatements(resolve('.'), ['src/lib/server', 'src/lib/web', 'src/worker', 'src/backup']);
	expect(statements.length).toBeGreaterThan(250);
	const types = new Map(
		(await context.owner.query<{ oid: number; name: string }>('select oid, typname as name from pg_type')).rows.map(({ oid, name }) => [oid, name])
	);
	const nullable = new Set(
		(
			await context.owner.query<{ key: string }>(`select attrelid || '.' || attnum as key from pg_attribute where attnum > 0 and not attnotnull`)
		).rows.map(({ key }) => key)
	);
	const names = new Map(
		(await context.owner.query<{ oid: number; name: string }>('select oid, relname as name from pg_class')).rows.map(({ oid, name }) => [oid, name])
	);
	const asTyped = (oid: number): string => {
		const name = types.get(oid)!;
		return name.startsWith('_') ? `${AS[name.slice(1)] ?? 'string'}[]` : (AS[name] ?? 'string');
	};
	const wrong: string[] = [];
	for (const { at, texts, unknown, columns } of statements) {
		const file = at.replace(/^src\/lib\/server\/|:\d+$/g, '');
		if (unknown && !PUT_TOGETHER.includes(file)) wrong.push(`${at}: cannot be worked out: ${unknown}`);
		for (const text of texts) {
			const real = await describeStatement(context.owner, text).catch((error: Error) => error);
			if (real instanceof Error) {
				wrong.push(`${at}: ${real.message}`);
				continue;
			}
			for (const column of columns) {
				const inDatabase = real.find(({ name }) => name === column.name);
				if (!inDatabase) {
					if (!column.optional) wrong.push(`${at}: no column ${column.name}`);
					continue;
				}
				const type = asTyped(inDatabase.dataTypeID);
				if (type !== 'unknown' && column.type !== 'unknown' && type !== column.type)
					wrong.push(`${at}: ${column.name} is ${type}, not ${column.type}`);
				const table = names.get(inDatabase.tableID);
				const outer = table && new RegExp(`left join ${table}\\b`).test(text) && !new RegExp(`(from|(?<!left )join) ${table}\\b`).test(text);
				const mayBeNull = outer || nullable.has(`${inDatabase.tableID}.${inDatabase.columnID}`);
				if (mayBeNull && !column.nullable && !NEVER_NULL[`${file} ${column.name}`]) wrong.push(`${at}: ${column.name} may be null`);
			}
		}
	}
	expect(wrong).toEqual([]);
}, 180_000);
