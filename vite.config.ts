import tailwindcss from '@tailwindcss/vite';
import { sveltekit } from '@sveltejs/kit/vite';
import { defineConfig } from 'vitest/config';

export default defineConfig({
	plugins: [tailwindcss(), sveltekit()],
	build: { chunkSizeWarningLimit: 1200 },
	test: {
		include: ['src/**/*.test.ts'],
		globalSetup: ['src/lib/server/testing/cluster-setup.ts'],
		testTimeout: 30_000,
		hookTimeout: 60_000,
		maxWorkers: 2
	}
});
