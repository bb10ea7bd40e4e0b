import { expect, test } from 'vitest';
import { greetsItself } from './greeting';

test.each([
	['Dear Mara,\nwe need a few things.', true],
	['Dear Mara, for Gull & String Kites, please.', true],
	['  hello!\n\nHere we go.', true],
	['Hi Mara\nHere we go.', true],
	['Good morning, Mara, and thank you.', true],
	['Chère Mara,\nvoici la suite.', true],
	['Bonjour Mara !', true],
	['To look after your books we need a few things.', false],
	['Dear is what these papers are to us. So please, hand them in.', false],
	['Hippos eat, we do not.', false],
	['Good news: it is done, at last.', false],
	['High time, Mara!', false],
	['We say hello, Mara.', false],
	['', false]
])('%j greets by itself: %s', (words, itself) => expect(greetsItself(words)).toBe(itself));
