// Draws docs/architecture.svg from the imports: the parts of the source, and the subjects of lib/server level by level.
import { readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { dirname, join, normalize } from 'node:path';
import { SUBJECTS } from '../subjects.js';
import { HOME } from './database.mjs';

const PARTS = [['routes', 'worker', 'app', 'backup'], ['ui', 'web'], ['server'], ['words'], ['core']];
const SAYS = {
	routes: 'pages of desk and portal',
	worker: 'jobs',
	app: 'the app process',
	backup: 'backup, restore',
	ui: 'components',
	web: 'forms, cookies, answers',
	server: 'use cases, by subject',
	words: 'what the portal says',
	core: 'rules; no input or output'
};
const WIDTH = 1180;
const BOX = { height: 30, row: 66 };

const files = readdirSync(join(HOME, 'src'), { recursive: true })
	.map(String)
	.filter((file) => /\.(ts|svelte)$/.test(file) && !file.includes('.test.') && !file.startsWith('lib/server/testing'));

/** The part or subject a file belongs to. */
const partOf = (path) => (path.startsWith('lib/') ? path.split('/')[1] : path.split('/')[0]);
const subjectOf = (path) => /^lib\/server\/([^/]+)\/./.exec(path)?.[1] ?? null;

/** How many imports lead from one name to another. */
function arrows(nameOf) {
	const counts = new Map();
	for (const file of files) {
		for (const [, from] of readFileSync(join(HOME, 'src', file), 'utf8').matchAll(/from '((?:\$lib|\.)[^']*)'/g)) {
			const target = from.startsWith('$lib/') ? from.replace('$lib', 'lib') : normalize(join(dirname(file), from));
			const [a, b] = [nameOf(file), nameOf(target)];
			if (a && b && a !== b) counts.set(`${a} ${b}`, (counts.get(`${a} ${b}`) ?? 0) + 1);
		}
	}
	return [...counts].map(([key, count]) => ({ from: key.split(' ')[0], to: key.split(' ')[1], count }));
}

/** Boxes in rows from the top, and lines between them, as thick as there are imports. */
function drawing(rows, lines, top, heading, said = {}) {
	const at = new Map();
	const boxes = rows.flatMap((row, y) => {
		const widths = row.map((name) => Math.max(84, Math.max(name.length * 8, (said[name]?.length ?? 0) * 5.6) + 22));
		const filled = widths.reduce((sum, width) => sum + width, 0);
		// spread out, so that lines pass between the boxes
		const gap = Math.min(110, (WIDTH - 80 - filled) / row.length);
		let x = (WIDTH - filled - (row.length - 1) * gap) / 2;
		return row.map((name, i) => {
			const box = { name, x, y: top + 44 + y * BOX.row, width: widths[i], height: said[name] ? BOX.height + 10 : BOX.height };
			x += widths[i] + gap;
			at.set(name, box);
			return box;
		});
	});
	const strokes = lines
		.filter(({ from, to }) => at.has(from) && at.has(to))
		.map(({ from, to, count }) => {
			const [a, b] = [at.get(from), at.get(to)];
			const [x1, y1, x2, y2] = [a.x + a.width / 2, a.y + a.height, b.x + b.width / 2, b.y];
			const middle = (y1 + y2) / 2;
			return `<path d="M${x1} ${y1}C${x1} ${middle} ${x2} ${middle} ${x2} ${y2}" stroke-width="${Math.min(5, 0.6 + Math.sqrt(count) / 3).toFixed(1)}"/>`;
		});
	const shapes = boxes.map(({ name, x, y, width, height }) =>
		[
			`<rect x="${x}" y="${y}" width="${width}" height="${height}" rx="4"/>`,
			`<text x="${x + width / 2}" y="${y + 19}">${name}</text>`,
			said[name] ? `<text class="said" x="${x + width / 2}" y="${y + 33}">${said[name]}</text>` : ''
		].join('')
	);
	return {
		height: 44 + rows.length * BOX.row,
		svg: `<text class="heading" x="24" y="${top + 22}">${heading}</text><g class="lines">${strokes.join('')}</g><g>${shapes.join('')}</g>`
	};
}

const parts = drawing(PARTS, arrows(partOf), 10, 'src: each part imports what stands below it', SAYS);
const subjects = drawing(
	SUBJECTS.toReversed(),
	// nearly everything imports these
	arrows(subjectOf).filter(({ to }) => !['platform', 'audit'].includes(to)),
	parts.height + 24,
	'src/lib/server: the subjects (lines to platform and audit, which all import, are left out)'
);
const height = parts.height + subjects.height + 40;
const style =
	'text{font:13px sans-serif;text-anchor:middle;fill:#1d2733}.heading{text-anchor:start;font-weight:600;font-size:15px}.said{font-size:10.5px;fill:#556}rect{fill:#fffdf6;stroke:#2f5d50}.lines{fill:none;stroke:#2f5d50;opacity:.38}';
writeFileSync(
	join(HOME, 'docs/architecture.svg'),
	`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${height}" role="img" aria-label="The parts of the source and what they import"><style>${style}</style><rect width="${WIDTH}" height="${height}" style="fill:#fff;stroke:none"/>${parts.svg}${subjects.svg}</svg>\n`
);
console.log('docs/architecture.svg shows what imports what');
