import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import ts from 'typescript';
import { expect, test } from 'vitest';

const files = (readdirSync('src', { recursive: true }) as string[]).map((file) => join('src', file));
const texts = files
	.filter((file) => /^src\/(routes|lib\/ui)\/.*\.(svelte|ts)$/.test(file) && !file.endsWith('+page.server.ts') && !file.endsWith('.test.ts'))
	.map((file) => ({ file, text: readFileSync(file, 'utf8') }));

/** The form actions of a page, as its server file names them; those of several pages stand in `lib/web`. */
function actionsOf(file: string): string[] {
	const found: string[] = [];
	const inWeb = file.startsWith('src/lib/web/');
	ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true).forEachChild((node) => {
		if (!ts.isVariableStatement(node)) return;
		for (const declared of node.declarationList.declarations) {
			let value = (inWeb ? /Actions$/.test(declared.name.getText()) : declared.name.getText() === 'actions') ? declared.initializer : undefined;
			while (value && !ts.isObjectLiteralExpression(value) && !ts.isIdentifier(value)) value = (value as ts.SatisfiesExpression).expression;
			for (const property of value && ts.isObjectLiteralExpression(value) ? value.properties : [])
				if (property.name) found.push(property.name.getText());
		}
	});
	return found;
}
const actions = new Set(files.filter((file) => file.endsWith('+page.server.ts') || /^src\/lib\/web\/.*-forms\.ts$/.test(file)).flatMap(actionsOf));

test('every form asks for an action that is there, and every action is asked for', () => {
	expect(actions.size).toBeGreaterThan(80);
	const asked = texts.flatMap(({ file, text }) => [...text.matchAll(/\?\/([a-zA-Z]+)\b/g)].map(([, name]) => ({ file, name })));
	expect(asked.filter(({ name }) => !actions.has(name))).toEqual([]);
	const named = (name: string) => texts.some(({ text }) => new RegExp(`\\?/${name}\\b|['"]${name}['"]`).test(text));
	expect([...actions].filter((name) => name !== 'default' && !named(name))).toEqual([]);
});
