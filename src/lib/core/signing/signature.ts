import { z } from 'zod';
import { oneLine } from '../people/plain-fields';

const SIGNER = { empty: 'wrong.signature.name', long: 'wrong.signature.nameLong' };
const coordinate = z.number().min(-50).max(2000);
const stroke = z
	.array(z.tuple([coordinate, coordinate]))
	.min(1)
	.max(4000);

/** The largest picture of a signature that is taken, in pixels and in characters of base64. */
export const PICTURE_MOST = { width: 600, height: 240, characters: 300_000 };

/** A signature as made: a name typed, strokes drawn on a pad of the given size in CSS pixels, or a picture of one. */
export const signatureSchema = z.discriminatedUnion('method', [
	z.object({ method: z.literal('typed'), name: oneLine(SIGNER, 120) }),
	z.object({
		method: z.literal('drawn'),
		name: oneLine(SIGNER, 120),
		width: z.number().min(50).max(2000),
		height: z.number().min(30).max(1200),
		strokes: z
			.array(stroke)
			.min(1, 'wrong.signature.none')
			.max(200, 'wrong.signature.detailed')
			.refine((strokes) => strokes.reduce((sum, s) => sum + s.length, 0) >= 4, 'wrong.signature.short')
	}),
	z.object({
		method: z.literal('picture'),
		name: oneLine(SIGNER, 120),
		width: z.int('wrong.signature.picture').min(8, 'wrong.signature.picture').max(PICTURE_MOST.width, 'wrong.signature.picture'),
		height: z.int('wrong.signature.picture').min(4, 'wrong.signature.picture').max(PICTURE_MOST.height, 'wrong.signature.picture'),
		/** the ink alone, as PNG in base64 */
		png: z
			.string('wrong.signature.picture')
			.max(PICTURE_MOST.characters, 'wrong.signature.picture')
			.regex(/^[A-Za-z0-9+/]+={0,2}$/, 'wrong.signature.picture')
	})
]);
export type Signature = z.infer<typeof signatureSchema>;

/** A signature made by hand on paper: the pages came as a file, at which somebody of the firm looked. Nobody makes one on a screen. */
export interface PaperSignature {
	method: 'paper';
	name: string;
	/** the day on which it was made, `YYYY-MM-DD` */
	on: string;
	/** how many pages there are */
	pages: number;
	/** the files as they came, with their SHA-256 in hexadecimal */
	files: { name: string; sha256: string }[];
	/** who of the firm looked at it */
	takenBy: string;
}
/** A signature as it is kept. */
export type KeptSignature = Signature | PaperSignature;

/** The drawn strokes as SVG path data in pad coordinates (y down). */
export function strokesAsPath(strokes: readonly (readonly [number, number])[][]): string {
	return strokes.map((points) => points.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`).join(' ')).join(' ');
}
