import { expect, test } from 'vitest';
import { ANSWERS, AUTOMATIC } from './corpus';
import { readNewAddress } from './new-address';

const KNOWN = ['mara@gullstring.example', 're-abc@papers.firm.example'];
const NEW = 'mara@kites.example';

test.each([
	[`I have a new e-mail address: ${NEW}. Please use it from now on.`, NEW],
	[`Hello Odalys,\n\nmy e-mail address has changed.\nPlease write to\n${NEW}\n\nMara\nmara@gullstring.example`, NEW],
	[`This mailbox is no longer read. You reach me at <Mara@Kites.example>.`, NEW],
	[`I changed my address (mara@gullstring.example is the old one) to ${NEW}`, NEW],
	[`Bonjour, j’ai une nouvelle adresse : ${NEW}`, NEW],
	[`Notre adresse électronique a changé. Merci d’écrire à ${NEW}.`, NEW],
	[`Cette boîte n’est plus relevée ; écrivez à ${NEW}`, NEW],
	[`Ich habe eine neue E-Mail-Adresse: ${NEW}`, NEW],
	[`Diese Adresse ist nicht mehr gültig. Bitte schreiben Sie an ${NEW}.`, NEW],
	// nothing that is plain
	[`My new address is 4 Harbour Lane.`, null],
	[`We have a new address: ${NEW} or office@kites.example`, null],
	[`Please send it to my accountant, ${NEW}, as well.`, null],
	[`I am away until Monday. In urgent cases write to jonas@kites.example instead.`, null],
	[`My new address is mara@gullstring.example`, null],
	[`The new address is mara@kites`, null],
	[`My e-mail address has changed.\nI tell you soon.\nThanks\nMara\n-\nsee ${NEW}`, null],
	['', null]
])('%s', (text, address) => expect(readNewAddress(text, KNOWN)).toBe(address));

test('of all other invented mails none names a new address', () => {
	for (const { text } of [...ANSWERS, ...AUTOMATIC]) expect(readNewAddress(text, KNOWN)).toBeNull();
});
test('2 MB of what could be an address are read in no time', () => {
	const before = performance.now();
	expect(readNewAddress(`new address ${'a.b-'.repeat(500_000)}`, KNOWN)).toBeNull();
	expect(readNewAddress(`new address ${'a@'.repeat(1_000_000)}`, KNOWN)).toBeNull();
	// a limit that only an endless search exceeds
	expect(performance.now() - before).toBeLessThan(5_000);
});
