import { signInAgain } from '../sign-in/sign-in-again';

/** Files up to this size go in one request: going on with them would cost more than beginning anew. */
const SMALL_BYTES = 512 * 1024;
/** Waits before trying again, in milliseconds; after these it waits for the line. */
const RETRY_AFTER = [0, 1000, 3000, 5000, 10_000, 20_000, 30_000];

export interface GoingUpload {
	/** resolves once the file is taken in; null, or why it was not (empty: nobody said why) */
	done: Promise<{ problem: string } | null>;
	/** gives it up; `done` then never resolves */
	cancel(): void;
}

/**
 * Sends a file for an item, and goes on where it stopped when the connection comes back (tus 1.0), also after the page was
 * closed and the same file is chosen again. While the page is open it does not give up for want of a line.
 * @param at address of the item on the portal
 * @param onWaiting told when the connection is lost and it will be tried again, and when it resumes
 */
export function uploadPaper(
	at: string,
	file: File,
	slot: string | null,
	told: { resumable?: boolean; onProgress?: (percent: number) => void; onWaiting?: (waiting: boolean) => void } = {}
): GoingUpload {
	return file.size <= SMALL_BYTES || told.resumable === false ? inOneRequest(at, file, slot, told) : resumable(at, file, slot, told);
}

/** Resolves when the browser says that the line is back, at the latest after some time, which grows up to a minute. */
function lineBack(tries: number): Promise<void> {
	return new Promise((resolve) => {
		const done = () => {
			removeEventListener('online', done);
			clearTimeout(timer);
			resolve();
		};
		const timer = setTimeout(done, Math.min(60_000, 1000 * 2 ** tries));
		addEventListener('online', done);
	});
}

function inOneRequest(at: string, file: File, slot: string | null, { onWaiting }: Parameters<typeof uploadPaper>[3] & object): GoingUpload {
	const stop = new AbortController();
	const send = async () => {
		// as long as the page is open: a phone may be in a tunnel
		for (let tries = 0; ; tries++) {
			const answer = await fetch(`${at}/papers${slot ? `?slot=${encodeURIComponent(slot)}` : ''}`, {
				method: 'POST',
				body: file,
				headers: { 'x-file-name': encodeURIComponent(file.name.toWellFormed()), 'content-type': 'application/octet-stream' },
				signal: stop.signal
			}).catch(() => null);
			if (answer?.ok) return null;
			if (stop.signal.aborted || (answer && answer.status < 500) || answer?.status === 507) {
				const said = (await answer?.json().catch(() => null)) as { message?: string } | null;
				return { problem: said?.message ?? '' };
			}
			onWaiting?.(true);
			await lineBack(tries);
			onWaiting?.(false);
		}
	};
	let cancelled = false;
	const done = send();
	return {
		done: new Promise((resolve) => void done.then((result) => !cancelled && resolve(result))),
		cancel() {
			cancelled = true;
			stop.abort();
		}
	};
}

function resumable(at: string, file: File, slot: string | null, { onProgress, onWaiting }: Parameters<typeof uploadPaper>[3] & object): GoingUpload {
	let cancelled = false;
	let stop: (() => void) | undefined;
	const done = new Promise<{ problem: string } | null>((resolve) => {
		let tries = 0;
		const begin = async () => {
			// loaded only where somebody sends a large file
			const { Upload, DetailedError } = await import('tus-js-client');
			const statusOf = (error: unknown) => (error instanceof DetailedError ? (error.originalResponse?.getStatus() ?? 0) : 0);
			const upload = new Upload(file, {
				endpoint: `${at}/uploads`,
				retryDelays: RETRY_AFTER,
				metadata: { filename: file.name.toWellFormed(), ...(slot ? { slot } : {}) },
				// the same file for another thing is another upload
				fingerprint: async () => ['upload', at, slot ?? '', file.name, file.size, file.lastModified].join(' '),
				removeFingerprintOnSuccess: true,
				onShouldRetry(error) {
					const status = statusOf(error);
					const again = !cancelled && (status === 0 || status === 423 || status === 409 || (status >= 500 && status !== 507));
					if (again) onWaiting?.(true);
					return again;
				},
				onProgress(sent, all) {
					tries = 0;
					onWaiting?.(false);
					onProgress?.(Math.round((100 * sent) / all));
				},
				onSuccess: () => resolve(null),
				async onError(error) {
					const status = statusOf(error);
					// signed out meanwhile, or the line is away for longer: it goes on from where it stopped
					if (status === 401 ? await signInAgain() : status === 0 || (status >= 500 && status !== 507)) {
						onWaiting?.(true);
						await lineBack(tries++);
						if (!cancelled) upload.start();
					} else resolve({ problem: error instanceof DetailedError ? (error.originalResponse?.getBody() ?? '') : '' });
				}
			});
			stop = () => void upload.abort(true).catch(() => undefined);
			const [earlier] = await upload.findPreviousUploads();
			if (earlier) upload.resumeFromPreviousUpload(earlier);
			if (!cancelled) upload.start();
		};
		begin().catch(() => resolve({ problem: '' }));
	});
	return {
		done: new Promise((resolve) => void done.then((result) => !cancelled && resolve(result))),
		cancel() {
			cancelled = true;
			stop?.();
		}
	};
}
