// npm run mutate [-- minutes]: changes one sign of the source at a time, runs the tests beside it, and counts which changes they notice.
// As many as the time allows, drawn evenly from all areas; the score by area is kept in docs/mutation.md.
import { cpSync, existsSync, mkdtempSync, readFileSync, readdirSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, dirname, join } from 'node:path';
import ts from 'typescript';
import { HOME } from './database.mjs';
import { run, wasStopped } from './runs.mjs';
import { needBuild, needModules, needPackages, SERVER_PACKAGES } from './setup.mjs';

const minutes = Number(process.argv[2] ?? 10);
const WORKERS = 2;
const CORE_CONFIG = 'core.vitest.mjs';
/** Seconds after which a change counts as noticed: the tests do not end any more. */
const LONGEST = 60;
needPackages(SERVER_PACKAGES);
needModules();
needBuild();

const FLIPPED = new Map([
	[ts.SyntaxKind.LessThanToken, '<='],
	[ts.SyntaxKind.LessThanEqualsToken, '<'],
	[ts.SyntaxKind.GreaterThanToken, '>='],
	[ts.SyntaxKind.GreaterThanEqualsToken, '>'],
	[ts.SyntaxKind.EqualsEqualsEqualsToken, '!=='],
	[ts.SyntaxKind.ExclamationEqualsEqualsToken, '==='],
	[ts.SyntaxKind.AmpersandAmpersandToken, '||'],
	[ts.SyntaxKind.BarBarToken, '&&'],
	[ts.SyntaxKind.PlusToken, '-'],
	[ts.SyntaxKind.MinusToken, '+'],
	[ts.SyntaxKind.TrueKeyword, 'false'],
	[ts.SyntaxKind.FalseKeyword, 'true']
]);

/** Every change of one sign in a file. */
function changesIn(file) {
	const text = readFileSync(join(HOME, file), 'utf8');
	const source = ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true);
	const found = [];
	const add = (node, becomes) =>
		found.push({
			file,
			from: node.getStart(),
			to: node.getEnd(),
			becomes,
			line: source.getLineAndCharacterOfPosition(node.getStart()).line + 1,
			was: node.getText()
		});
	const visit = (node) => {
		if (ts.isTypeNode(node) || ts.isImportDeclaration(node)) return;
		const becomes = FLIPPED.get(node.kind);
		// a sum of texts is no sum
		const isText =
			ts.isBinaryExpression(node.parent ?? source) &&
			[node.parent.left, node.parent.right].some((side) => ts.isStringLiteralLike(side) || ts.isTemplateExpression(side));
		if (becomes && !(node.kind === ts.SyntaxKind.PlusToken && isText)) add(node, becomes);
		if (ts.isIfStatement(node)) add(node.expression, 'false');
		if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken) add(node, node.operand.getText());
		ts.forEachChild(node, visit);
	};
	visit(source);
	return found;
}

/** The tests beside a file: its own, or in core those of its folder. */
function testsOf(file) {
	const own = file.replace(/\.ts$/, '.test.ts');
	if (existsSync(join(HOME, own))) return [own];
	if (!file.startsWith('src/lib/core/')) return [];
	return readdirSync(join(HOME, dirname(file)))
		.filter((name) => name.endsWith('.test.ts'))
		.map((name) => join(dirname(file), name));
}
const areaOf = (file) => file.split('/').slice(2, 4).join('/');

const byArea = new Map();
for (const root of ['src/lib/core', 'src/lib/server'])
	for (const name of readdirSync(join(HOME, root), { recursive: true }).map(String).sort()) {
		const file = join(root, name);
		if (!file.endsWith('.ts') || file.includes('.test.') || file.includes('/testing/') || testsOf(file).length === 0) continue;
		byArea.set(areaOf(file), [...(byArea.get(areaOf(file)) ?? []), ...changesIn(file)]);
	}
// the same ones in every run of the same source, spread over each area
const queues = [...byArea].map(([area, all]) => {
	const stride = Math.max(1, Math.floor(all.length * 0.382) | 1);
	return { area, total: all.length, waiting: all.map((_, i) => all[(i * stride) % all.length]).filter((one, i, list) => list.indexOf(one) === i) };
});

function copyOf() {
	const folder = mkdtempSync(join(tmpdir(), 'lantern-mutate-'));
	for (const part of [
		'src',
		'scripts',
		'db',
		'demo',
		'docs',
		'static',
		'.svelte-kit',
		'package.json',
		'tsconfig.json',
		'vite.config.ts',
		'svelte.config.js'
	])
		if (existsSync(join(HOME, part))) cpSync(join(HOME, part), join(folder, part), { recursive: true });
	for (const part of ['node_modules', 'build']) symlinkSync(join(HOME, part), join(folder, part));
	// core needs neither a database nor the build of the pages
	writeFileSync(
		join(folder, CORE_CONFIG),
		`export default { resolve: { alias: { $lib: ${JSON.stringify(join(folder, 'src/lib'))} } }, test: { include: ['src/lib/core/**/*.test.ts'], testTimeout: 30_000 } };`
	);
	return folder;
}

/** @returns {Promise<boolean>} whether the tests fail */
async function fails(folder, tests) {
	const code = await run(
		'npx',
		[
			'vitest',
			'run',
			'--bail',
			'1',
			'--reporter=dot',
			'--maxWorkers=1',
			...(tests[0].startsWith('src/lib/core/') ? ['--config', CORE_CONFIG] : []),
			...tests
		],
		{ quiet: 'silent', cwd: folder, seconds: LONGEST }
	);
	return code !== 0;
}

const ends = performance.now() + minutes * 60_000;
const scores = new Map(queues.map(({ area, total }) => [area, { total, tried: 0, noticed: 0 }]));
const missed = [];
const holds = new Map();
let turn = 0;
function next() {
	for (let tries = 0; tries < queues.length; tries++) {
		const queue = queues[turn++ % queues.length];
		const change = queue.waiting.shift();
		if (change) return { ...change, area: queue.area };
	}
	return null;
}
async function work() {
	const folder = copyOf();
	try {
		for (let change = next(); change && performance.now() < ends; change = next()) {
			const tests = testsOf(change.file);
			// where they fail as it is, that says nothing
			const key = tests.join(' ');
			if (!holds.has(key))
				holds.set(
					key,
					fails(folder, tests).then((failed) => !failed)
				);
			if (!(await holds.get(key))) {
				if (wasStopped()) break;
				console.error(`these tests fail without any change: ${key}`);
				continue;
			}
			const path = join(folder, change.file);
			const text = readFileSync(path, 'utf8');
			writeFileSync(path, text.slice(0, change.from) + change.becomes + text.slice(change.to));
			const noticed = await fails(folder, tests);
			writeFileSync(path, text);
			if (wasStopped()) break;
			const score = scores.get(change.area);
			score.tried++;
			if (noticed) score.noticed++;
			else missed.push(change);
		}
	} finally {
		const { startTestDatabase, TEST_FOLDER } = await import(join(folder, 'scripts/database.mjs'));
		(await startTestDatabase()).stop();
		rmSync(TEST_FOLDER, { recursive: true, force: true });
		rmSync(folder, { recursive: true, force: true });
	}
}
await Promise.all(Array.from({ length: WORKERS }, work));
if (wasStopped()) process.exit(130);

const percent = ({ tried, noticed }) => (tried > 0 ? `${Math.round((noticed / tried) * 100)} %` : '–');
const all = [...scores.values()].reduce((sum, one) => ({ tried: sum.tried + one.tried, noticed: sum.noticed + one.noticed }), {
	tried: 0,
	noticed: 0
});
const table = [...scores].map(([area, score]) => `| ${area} | ${score.total} | ${score.tried} | ${percent(score)} |`).join('\n');
const report = `# What the tests notice

\`npm run mutate\` changes one sign of the source at a time and runs the tests beside it. Of ${all.tried} changes tried in ${minutes} minutes they noticed ${percent(all)}.

| area | possible | tried | noticed |
| --- | --- | --- | --- |
${table}

## Not noticed

${missed.map(({ file, line, was, becomes }) => `- ${basename(dirname(file))}/${basename(file)}:${line}: \`${was.replace(/\s+/g, ' ').slice(0, 60)}\` → \`${becomes}\``).join('\n')}
`;
writeFileSync(join(HOME, 'docs/mutation.md'), report);
console.log(report);
