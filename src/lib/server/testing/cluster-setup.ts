import type { TestProject } from 'vitest/node';

declare module 'vitest' {
	interface ProvidedContext {
		ownerUrl: string;
	}
}

/** One throw-away PostgreSQL for the run, with a migrated template that each test file clones. */
export default async function setup(project: TestProject): Promise<void> {
	const { startTestDatabase } = (await import('../../../../scripts/database.mjs' as string)) as typeof import('../../../../scripts/database.mjs');
	const { migrate } = await import('../platform/db/migrations');
	const cluster = await startTestDatabase();
	cluster.sql('drop database if exists lantern_template with (force)');
	cluster.ensure('lantern_template');
	await migrate(cluster.ownerUrl('lantern_template'));
	project.provide('ownerUrl', cluster.ownerUrl('postgres'));
}
