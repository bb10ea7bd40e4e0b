import { awake, expect, signInAtDesk, test } from './product';
import { most, nothingYet, told, walk } from './walk';

test.use({ file: 'hands' });

test('every field of the desk takes what is typed, every control is reached by Tab', async ({ page }) => {
	test.setTimeout(1_800_000);
	await signInAtDesk(page, 'ferrin');
	const walked = nothingYet();
	await walk(page, '/desk/rounds', '/desk/', () => awake(page), walked, new Set(), most);
	told('desk', walked);
	expect(walked.faults).toEqual([]);
});
