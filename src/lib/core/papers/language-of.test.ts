import { expect, test } from 'vitest';
import { languageOf } from './language-of';

test.each([
	['The statement of your account from 1 to 30 April is with this letter, for you to keep.', 'en'],
	['Veuillez trouver le relevé de votre compte pour le mois; les frais sont à la charge de la société.', 'fr'],
	['Wir senden Ihnen die Abrechnung für das Konto; der Betrag ist mit der Zahlung und den Zinsen verrechnet.', 'de'],
	['4471 120.00 CR 30 Apr', null],
	['', null],
	['the le der the le der the le der', null]
])('%s: %s', (text, language) => expect(languageOf(text)).toBe(language));
