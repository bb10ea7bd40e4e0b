/**
 * A page of a PDF as it is written: the box that is shown, in the units of its own user space, how far it is turned to the right, and how
 * long its unit is (ISO 32000-2, 8.3.2.3 and 14.11.2).
 */
export interface PageShape {
	/** of the lower left corner of what is shown */ x: number;
	y: number;
	width: number;
	height: number;
	/** in degrees, to the right */ rotate: 0 | 90 | 180 | 270;
	/** points of 1/72 inch for each unit */ unit: number;
}
export interface Point {
	x: number;
	y: number;
}

/** How wide and high the page is when it is looked at, in points. */
export function seenSize({ width, height, rotate, unit }: PageShape): { width: number; height: number } {
	return rotate % 180 === 0 ? { width: width * unit, height: height * unit } : { width: height * unit, height: width * unit };
}

/** Where a point of the page as it is seen, in points from its upper left corner, lies in the page's own user space. */
export function toPage(shape: PageShape, seen: Point): Point {
	const [sx, sy] = [seen.x / shape.unit, seen.y / shape.unit];
	switch (shape.rotate) {
		case 0:
			return { x: shape.x + sx, y: shape.y + shape.height - sy };
		case 90:
			return { x: shape.x + sy, y: shape.y + sx };
		case 180:
			return { x: shape.x + shape.width - sx, y: shape.y + sy };
		case 270:
			return { x: shape.x + shape.width - sy, y: shape.y + shape.height - sx };
	}
}

/** The other way round. */
export function toSeen(shape: PageShape, page: Point): Point {
	const [px, py] = [page.x - shape.x, page.y - shape.y];
	const seen = (x: number, y: number) => ({ x: x * shape.unit, y: y * shape.unit });
	switch (shape.rotate) {
		case 0:
			return seen(px, shape.height - py);
		case 90:
			return seen(py, px);
		case 180:
			return seen(shape.width - px, py);
		case 270:
			return seen(shape.height - py, shape.width - px);
	}
}

/**
 * The matrix by which something is drawn upright on a page as it is seen: its own space begins at the lower left corner of what is seen and
 * counts points to the right and up (ISO 32000-2, 8.3.4).
 */
export function uprightMatrix(shape: PageShape): [number, number, number, number, number, number] {
	const { height } = seenSize(shape);
	const at = (x: number, y: number) => toPage(shape, { x, y: height - y });
	const [origin, right, up] = [at(0, 0), at(1, 0), at(0, 1)];
	return [right.x - origin.x, right.y - origin.y, up.x - origin.x, up.y - origin.y, origin.x, origin.y];
}
