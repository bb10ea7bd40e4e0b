import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

/** Builds what runs in Node.js beside the app: the worker, the PDF thread and the command-line tools. */
export default defineConfig({
	resolve: { alias: { $lib: fileURLToPath(new URL('./src/lib', import.meta.url)) } },
	publicDir: false,
	build: {
		ssr: true,
		outDir: 'build/node',
		emptyOutDir: true,
		target: 'node20',
		sourcemap: true,
		rollupOptions: {
			input: {
				app: 'src/app/main.ts',
				worker: 'src/worker/main.ts',
				'pdf-thread': 'src/lib/server/platform/pdf/pdf-thread.ts',
				'list-thread': 'src/lib/server/clients/import/list-thread.ts',
				'statement-thread': 'src/lib/server/transactions/statement-thread.ts',
				'pairing-thread': 'src/lib/server/transactions/pairing-thread.ts',
				'calendar-thread': 'src/lib/server/firms/calendar-thread.ts',
				backup: 'src/backup/command.ts',
				papers: 'src/backup/papers-command.ts',
				verify: 'src/lib/server/signing/verify-command.ts',
				'mail-standin': 'src/lib/server/platform/mail/standin-process.ts',
				'text-standin': 'src/lib/server/platform/text-messages/standin-process.ts',
				'identity-standin': 'src/lib/server/platform/identity-checks/standin-process.ts',
				'time-stamp-standin': 'src/lib/server/platform/time-stamps/standin-process.ts',
				migrations: 'src/lib/server/platform/db/migrations.ts',
				migrate: 'src/lib/server/platform/db/migrate-command.ts',
				seed: 'demo/seed.ts',
				bench: 'bench/main.ts'
			},
			output: { entryFileNames: '[name].js', chunkFileNames: 'chunks/[name]-[hash].js' }
		}
	}
});
