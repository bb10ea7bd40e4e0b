import { errorForLog } from '$lib/server/platform/log';
import { parseSettings, SettingsRefused } from '$lib/server/platform/settings';
import { backUp } from './backup';
import { BackupRefused } from './manifest';
import { restore } from './restore';

const [what, ...args] = process.argv.slice(2);
const [folder] = args.filter((arg) => !arg.startsWith('--'));
const options = args.filter((arg) => arg.startsWith('--'));
const known = what === 'restore' ? ['--hold-messages'] : [];
if ((what !== 'backup' && what !== 'restore') || !folder || options.some((option) => !known.includes(option))) {
	console.error(`Usage: npm run backup -- FOLDER\n       npm run restore -- FOLDER [--hold-messages]`);
	process.exit(1);
}

const megabytes = (bytes: number) => `${(bytes / 1_000_000).toFixed(1)} MB`;
try {
	// neither sends anything
	const given = parseSettings({ SMTP_URL: 'smtp://127.0.0.1', ...process.env });
	if (what === 'backup') {
		const { database, papers, rows, secretKey } = await backUp(given, folder, new Date());
		console.log(`Backed up to ${folder}: ${rows.client} clients, ${rows.message} messages, the database (${megabytes(database.bytes)}) and ${papers.files} files (${megabytes(papers.bytes)}).
What is secret in it opens with the SECRET_KEY named ${secretKey} only, which is not part of it: keep that elsewhere.`);
	} else {
		const { manifest, messages } = await restore(given, folder, options.includes('--hold-messages'));
		console.log(
			`Restored what was backed up on ${manifest.madeAt}: ${manifest.rows.client} clients, ${manifest.papers.files} files; rows and files are all there.`
		);
		if (given.S3_ENDPOINT) console.log('The papers are in PAPERS_FOLDER now: npm run papers -- move to-store brings them into the store.');
		if (messages > 0)
			console.log(
				options.includes('--hold-messages')
					? `${messages} messages that were planned are held back; the Postroom shows them.`
					: `${messages} messages were planned, and go out once the worker starts. If they may have gone after the backup was made, restore with --hold-messages.`
			);
	}
} catch (error) {
	console.error(error instanceof BackupRefused || error instanceof SettingsRefused ? error.message : errorForLog(error));
	process.exit(1);
}
