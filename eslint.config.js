import js from '@eslint/js';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import { SUBJECTS } from './subjects.js';
import svelteConfig from './svelte.config.js';

/** The arrows between the parts: what may not be imported from where. */
const forbid = (files, patterns, ignores = []) => ({
	files,
	ignores: ['**/*.test.ts', ...ignores],
	rules: { 'no-restricted-imports': ['error', { patterns }] }
});
const noPagesInServer = [
	{
		group: ['svelte', 'svelte/*', '$app/*', '$lib/ui/*', '$lib/web/*', '**/web/*', '**/routes/**'],
		message: 'Use cases know neither pages nor components.'
	},
	{ group: ['@sveltejs/*', '@tus/*'], message: 'HTTP belongs in lib/web.' }
];
const noDate = [
	{ selector: "MemberExpression[object.name='Date'][property.name='now']", message: 'Time is an argument.' },
	{ selector: "NewExpression[callee.name='Date'][arguments.length=0]", message: 'Time is an argument.' },
	{ selector: "MemberExpression[object.name='Math'][property.name='random']", message: 'No randomness here.' }
];

export default ts.config(
	{ ignores: ['build/', '.svelte-kit/', 'node_modules/', '.lantern/', 'test-results/'] },
	js.configs.recommended,
	...ts.configs.recommended,
	...svelte.configs.recommended,
	{
		languageOptions: { globals: { ...globals.browser, ...globals.node } },
		rules: {
			'no-undef': 'off',
			'no-control-regex': 'off',
			'@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
			// addresses here are built from the firm's own short name and ids; there is no base path
			'svelte/no-navigation-without-resolve': 'off',
			'svelte/prefer-svelte-reactivity': 'off'
		}
	},
	{ files: ['**/*.svelte', '**/*.svelte.ts'], languageOptions: { parserOptions: { parser: ts.parser, svelteConfig } } },
	forbid(
		['src/lib/core/**/*.ts'],
		[
			{
				group: ['$lib/*', '$app/*', 'svelte', 'svelte/*', '@sveltejs/*', 'pg', 'node:*', 'fs', 'path', '**/server/**', '**/ui/**', '**/words/**'],
				message: 'Core imports only core, zod and Temporal.'
			}
		]
	),
	{ files: ['src/lib/core/**/*.ts'], ignores: ['**/*.test.ts'], rules: { 'no-restricted-syntax': ['error', ...noDate] } },
	{
		files: ['src/lib/server/**/*.ts'],
		ignores: ['**/*.test.ts', 'src/lib/server/platform/**', 'src/lib/server/testing/**'],
		rules: { 'no-restricted-syntax': ['error', noDate[0], noDate[1]] }
	},
	forbid(['src/lib/server/*.ts'], noPagesInServer),
	...SUBJECTS.flatMap((level, at) =>
		level.map((subject) =>
			forbid(
				[`src/lib/server/${subject}/**/*.ts`],
				[
					...noPagesInServer,
					{
						group: SUBJECTS.slice(at)
							.flat()
							.filter((other) => other !== subject)
							.flatMap((other) => [`../${other}/**`, `../../${other}/**`, `../../../${other}/**`, `$lib/server/${other}/**`]),
						message: `Subjects import downwards only; see subjects.js.`
					}
				]
			)
		)
	),
	{
		files: ['src/lib/server/**/*.ts'],
		ignores: ['**/*.test.ts', 'src/lib/server/platform/text-messages/**'],
		rules: {
			'no-restricted-globals': [
				'error',
				...['Request', 'Response', 'FormData', 'Headers'].map((name) => ({ name, message: 'HTTP belongs in lib/web.' }))
			]
		}
	},
	forbid(
		['src/lib/web/**/*.ts'],
		[{ group: ['svelte', 'svelte/*', '$lib/ui/*', '**/routes/**'], message: 'Forms and answers know neither pages nor components.' }]
	),
	{
		files: ['src/routes/**/*.{ts,svelte}', 'src/lib/web/**/*.ts', 'src/worker/**/*.ts'],
		ignores: ['**/*.test.ts'],
		rules: {
			'no-restricted-syntax': [
				'error',
				{
					// the queue's own tables are the worker's business
					selector:
						"CallExpression[callee.object.name='tx'][callee.property.name=/^(rows|first)$/], CallExpression[callee.property.name='queryOutsideFirm']",
					message: 'SQL stands behind the use cases.'
				}
			]
		}
	},
	{
		files: ['src/lib/ui/**/*.{svelte,ts}'],
		rules: {
			'no-restricted-imports': 'off',
			'@typescript-eslint/no-restricted-imports': [
				'error',
				{ patterns: [{ group: ['$lib/server/*'], message: 'Components know core, never the server.', allowTypeImports: true }] }
			]
		}
	},
	forbid(
		['src/worker/**/*.ts'],
		[{ group: ['svelte', '$app/*', '@sveltejs/*', '$lib/ui/*', '**/routes/**'], message: 'The worker calls use cases only.' }]
	)
);
