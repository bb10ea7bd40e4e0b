// The schema as it is now, as text: what all migrations together have made.
import { spawnSync } from 'node:child_process';

/**
 * @param {string} url of a migrated database, as its owner
 * @returns {string} its tables, functions, policies and rights, without what differs between versions of the tool
 */
export function dumpSchema(url) {
	const run = spawnSync('pg_dump', ['--schema-only', '--no-owner', '--schema=public', '-d', url], {
		encoding: 'utf8',
		maxBuffer: 64 * 1024 * 1024
	});
	if (run.status !== 0) throw new Error(run.stderr);
	const lines = run.stdout
		.split('\n')
		.filter((line) => !/^(--|SET |SELECT pg_catalog\.set_config|\\|CREATE SCHEMA public|COMMENT ON SCHEMA public)/.test(line));
	return `${lines
		.join('\n')
		.replaceAll('public.', '')
		.replace(/\n{3,}/g, '\n\n')
		.trim()}\n`;
}

/** The first line of the file: other versions of PostgreSQL write some things otherwise. */
export const schemaHeading = (major) =>
	`-- The schema as all migrations leave it, written by \`npm run database -- schema\` with PostgreSQL ${major}. Not to be run.\n\n`;
