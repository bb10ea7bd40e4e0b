import tailwindcss from '@tailwindcss/vite';
import { sveltekit } from '@sveltejs/kit/vite';
import type { Plugin } from 'vite';
import { defineConfig } from 'vitest/config';

/**
 * On a slow line the first page keeps the font of the device: text that is read already must not move when ours arrives. It is there
 * from the second page on.
 */
const keepTextInItsPlace: Plugin = {
	name: 'keep-text-in-its-place',
	enforce: 'pre',
	transform: (code, id) => (/@fontsource-variable\/.+\.css$/.test(id) ? code.replaceAll('font-display: swap', 'font-display: optional') : undefined)
};

export default defineConfig({
	plugins: [keepTextInItsPlace, tailwindcss(), sveltekit()],
	build: { chunkSizeWarningLimit: 1200 },
	test: {
		include: ['src/**/*.test.ts'],
		globalSetup: ['src/lib/server/testing/cluster-setup.ts'],
		testTimeout: 90_000,
		hookTimeout: 120_000,
		// what is waited for comes late on a slow machine; the usual second is too short there
		expect: { poll: { timeout: 60_000 } },
		maxWorkers: 2,
		// nothing is mocked and each file has a database of its own: the modules are read once for all of them
		isolate: false
	}
});
