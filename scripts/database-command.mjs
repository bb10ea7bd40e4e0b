// npm run database -- start|stop|schema: the database of this folder, and the schema as a text.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { HOME, startDatabase } from './database.mjs';
import { dumpSchema, schemaHeading } from './schema.mjs';
import { needBuild, needModules } from './setup.mjs';

const folder = join(HOME, '.lantern/database');
/** The database from which the schema is written; it is gone again afterwards. */
const SCHEMA = 'lantern_schema';

const COMMANDS = {
	async start() {
		const database = await startDatabase({ folder });
		database.ensure('lantern');
		console.log(`DATABASE_URL=${database.ownerUrl('lantern')}\nAPP_DATABASE_URL=${database.appUrl('lantern')}`);
	},
	async stop() {
		(await startDatabase({ folder })).stop();
	},
	async schema() {
		needModules();
		needBuild();
		const database = await startDatabase({ folder });
		database.sql(`drop database if exists ${SCHEMA} with (force)`);
		database.ensure(SCHEMA);
		const { migrate } = await import('../build/node/migrations.js');
		await migrate(database.ownerUrl(SCHEMA), join(HOME, 'db/migrations'));
		const [major] = /\d+/.exec(database.sql('show server_version', SCHEMA).split('\n')[2]);
		writeFileSync(join(HOME, 'db/schema.sql'), schemaHeading(major) + dumpSchema(database.ownerUrl(SCHEMA)));
		database.sql(`drop database ${SCHEMA} with (force)`);
		if (!database.wasRunning) database.stop();
		console.log('db/schema.sql holds the schema as it is now');
	}
};

const command = COMMANDS[process.argv[2]];
if (!command) {
	console.error(`Usage: npm run database -- ${Object.keys(COMMANDS).join('|')}`);
	process.exit(1);
}
await command();
