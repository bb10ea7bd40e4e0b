import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import fontkit from '@cantoo/fontkit';
import { DomainError } from '$lib/core/errors/domain-error';

const require = createRequire(import.meta.url);
const path = (name: string) => require.resolve(`@expo-google-fonts/${name}`);

/** The shipped fonts by use. PDF's own standard fonts are never used: they lack most characters. */
export const FONT_FILES = {
	serif: path('noto-serif/400Regular/NotoSerif_400Regular.ttf'),
	serifBold: path('noto-serif/700Bold/NotoSerif_700Bold.ttf'),
	serifItalic: path('noto-serif/400Regular_Italic/NotoSerif_400Regular_Italic.ttf'),
	serifBoldItalic: path('noto-serif/700Bold_Italic/NotoSerif_700Bold_Italic.ttf'),
	sans: path('noto-sans/400Regular/NotoSans_400Regular.ttf'),
	sansBold: path('noto-sans/700Bold/NotoSans_700Bold.ttf'),
	sansItalic: path('noto-sans/400Regular_Italic/NotoSans_400Regular_Italic.ttf'),
	sansBoldItalic: path('noto-sans/700Bold_Italic/NotoSans_700Bold_Italic.ttf')
} as const;
export type FontName = keyof typeof FONT_FILES;

const bytes = new Map<FontName, Buffer>();
export function fontBytes(name: FontName): Buffer {
	let found = bytes.get(name);
	if (!found) bytes.set(name, (found = readFileSync(FONT_FILES[name])));
	return found;
}

interface GlyphTest {
	hasGlyphForCodePoint(codePoint: number): boolean;
}
const parsed = new Map<FontName, GlyphTest>();
function font(name: FontName): GlyphTest {
	let found = parsed.get(name);
	if (!found) parsed.set(name, (found = fontkit.create(fontBytes(name)) as unknown as GlyphTest));
	return found;
}

/** The characters of a text that a font cannot draw; line breaks do not count. */
export function missingGlyphs(text: string, name: FontName): string[] {
	const test = font(name);
	return [...new Set(text)].filter((character) => !/[\n\r\t]/.test(character) && !test.hasGlyphForCodePoint(character.codePointAt(0)!));
}

/**
 * Refuses text that would come out with holes: a missing glyph is silent in every PDF library.
 * @throws DomainError invalid, naming the characters
 */
export function requireGlyphs(text: string, name: FontName, where: string): void {
	const missing = missingGlyphs(text, name);
	if (missing.length > 0)
		throw new DomainError(
			'invalid',
			`${where} holds ${missing.length === 1 ? 'a character' : 'characters'} that cannot be put in a letter: ${missing.slice(0, 8).join(' ')}. Please take ${missing.length === 1 ? 'it' : 'them'} out.`
		);
}

/** The text with the sign for an unknown character in place of what the font cannot draw; for lists of events, where a hole would mislead. */
export function drawable(text: string, name: FontName): string {
	const missing = new Set(missingGlyphs(text, name));
	return [...text]
		.map((c) => (missing.has(c) ? '\ufffd' : c))
		.join('')
		.replace(/[\n\r\t]+/g, ' ');
}
