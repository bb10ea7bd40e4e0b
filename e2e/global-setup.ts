import { rmSync } from 'node:fs';
import { E2E_FOLDER, prepareTemplate } from './product';

/** Seeds the demo scenario once; every test file then works on a copy of it. */
export default async function setup(): Promise<void> {
	// while working on one test, the template of the last run will do
	if (process.env.E2E_KEEP_TEMPLATE === '1') return;
	rmSync(E2E_FOLDER, { recursive: true, force: true });
	await prepareTemplate();
}
