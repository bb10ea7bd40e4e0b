/** Relative luminance of an sRGB colour written `#rrggbb` (WCAG 2.2). */
function luminance(hex: string): number {
	const [r, g, b] = [1, 3, 5].map((at) => {
		const c = parseInt(hex.slice(at, at + 2), 16) / 255;
		return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
	});
	return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** Contrast ratio of two colours, 1 to 21 (WCAG 2.2, 1.4.3). */
export function contrast(a: string, b: string): number {
	const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x);
	return (light + 0.05) / (dark + 0.05);
}

/** The firm's colour, darkened step by step until white text on it and it on paper reach 4.5 to 1. */
export function passingShade(hex: string, paper = '#f7f4ec'): string {
	let [r, g, b] = [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16));
	const write = () => '#' + [r, g, b].map((c) => Math.round(c).toString(16).padStart(2, '0')).join('');
	while (Math.min(contrast(write(), '#ffffff'), contrast(write(), paper)) < 4.5) [r, g, b] = [r * 0.96, g * 0.96, b * 0.96];
	return write();
}
