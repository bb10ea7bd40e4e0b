import { errorForLog } from '$lib/server/platform/log';
import { folderStore } from '$lib/server/platform/files/paper-store';
import { storeOf } from '$lib/server/platform/files/stores';
import { parseSettings, SettingsRefused } from '$lib/server/platform/settings';
import { BackupRefused } from './manifest';
import { checkPapers, movePapers, readNamedFiles } from './move-papers';

const [what, where, ...more] = process.argv.slice(2);
const TO = ['to-store', 'to-folder'];
if (more.length > 0 || !(what === 'check' ? where === undefined : what === 'move' && TO.includes(where))) {
	console.error('Usage: npm run papers -- move to-store\n       npm run papers -- move to-folder\n       npm run papers -- check');
	process.exit(1);
}

const files = (n: number) => (n === 1 ? 'one file' : `${n.toLocaleString('en')} files`);
function refuse(wrong: readonly string[]): void {
	console.error(`${files(wrong.length)} that the database names could not be found whole:\n${wrong.slice(0, 20).join('\n')}`);
	process.exitCode = 1;
}
try {
	// nothing is sent
	const given = parseSettings({ SMTP_URL: 'smtp://127.0.0.1', ...process.env });
	const [folder, store] = [folderStore(given.PAPERS_FOLDER), storeOf(given)];
	if (!store && what === 'move')
		throw new BackupRefused('S3_ENDPOINT: is missing. Name the store with S3_ENDPOINT, S3_BUCKET, S3_ACCESS_KEY and S3_SECRET_KEY.');
	const problem = await store?.problem();
	if (problem) throw new BackupRefused(problem);
	const named = await readNamedFiles(given.DATABASE_URL);
	if (what === 'check') {
		const wrong = await checkPapers(named, store ?? folder);
		if (wrong.length > 0) refuse(wrong);
		else console.log(`${files(named.length)}: all there, and each is what the database says.`);
	} else {
		const { copied, bytes, there, wrong } = where === 'to-store' ? await movePapers(named, folder, store!) : await movePapers(named, store!, folder);
		console.log(
			`${files(copied)} copied (${(bytes / 1_000_000).toFixed(1)} MB) and read back, ${there.toLocaleString('en')} there already. Nothing was removed where it came from.`
		);
		if (wrong.length > 0) refuse(wrong);
	}
	store?.close();
} catch (error) {
	console.error(error instanceof BackupRefused || error instanceof SettingsRefused ? error.message : errorForLog(error));
	process.exit(1);
}
