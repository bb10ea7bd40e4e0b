import type { TestProject } from 'vitest/node';
import { existsSync } from 'node:fs';

declare module 'vitest' {
	interface ProvidedContext {
		ownerUrl: string;
	}
}

/** One throw-away PostgreSQL for the run, with a migrated template that each test file clones. */
export default async function setup(project: TestProject): Promise<void> {
	const { startDatabase } = (await import('../../../../scripts/database.mjs' as string)) as typeof import('../../../../scripts/database.mjs');
	const { migrate } = await import('../platform/db/migrations');
	const folder = existsSync('/dev/shm') ? `/dev/shm/humble-lantern-test-${process.getuid?.() ?? 0}` : '.lantern/test-database';
	const cluster = await startDatabase({ folder, fast: true, port: 26432 });
	cluster.sql('drop database if exists lantern_template with (force)');
	cluster.ensure('lantern_template');
	await migrate(cluster.ownerUrl('lantern_template'));
	project.provide('ownerUrl', cluster.ownerUrl('postgres'));
}
