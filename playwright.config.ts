import { defineConfig } from '@playwright/test';

export default defineConfig({
	testDir: 'e2e',
	globalSetup: './e2e/global-setup.ts',
	workers: 2,
	fullyParallel: false,
	// the longest file first, so that both workers end at about the same time
	projects: [
		{ name: 'walk', testMatch: 'hands.spec.ts' },
		{ name: 'rest', testIgnore: 'hands.spec.ts' }
	],
	timeout: 150_000,
	expect: { timeout: 30_000 },
	reporter: [['line'], ['json', { outputFile: 'test-results/playwright.json' }]],
	use: {
		actionTimeout: 30_000,
		locale: 'en-CA',
		launchOptions: {
			executablePath: '/usr/bin/chromium-headless-shell',
			args: [
				'--no-sandbox',
				'--disable-gpu',
				'--disable-quic',
				'--no-first-run',
				'--disable-background-networking',
				'--disable-component-update',
				'--disable-sync'
			]
		}
	}
});
