import { z } from 'zod';
import { oneLine } from '../people/plain-fields';

const coordinate = z.number().min(-50).max(2000);
const stroke = z
	.array(z.tuple([coordinate, coordinate]))
	.min(1)
	.max(4000);

/** A signature as made: a name typed, or strokes drawn on a pad of the given size in CSS pixels. */
export const signatureSchema = z.discriminatedUnion('method', [
	z.object({ method: z.literal('typed'), name: oneLine('your name', 120) }),
	z.object({
		method: z.literal('drawn'),
		name: oneLine('your name', 120),
		width: z.number().min(50).max(2000),
		height: z.number().min(30).max(1200),
		strokes: z
			.array(stroke)
			.min(1, 'Draw your signature first.')
			.max(200, 'This drawing is too detailed. Clear it and sign again.')
			.refine((strokes) => strokes.reduce((sum, s) => sum + s.length, 0) >= 4, 'The drawing is too short to be a signature. Clear it and sign again.')
	})
]);
export type Signature = z.infer<typeof signatureSchema>;

/** The drawn strokes as SVG path data in pad coordinates (y down). */
export function strokesAsPath(strokes: readonly (readonly [number, number])[][]): string {
	return strokes.map((points) => points.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`).join(' ')).join(' ');
}
