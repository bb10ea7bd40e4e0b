import { randomUUID } from 'node:crypto';
import { PassThrough, Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { DeleteObjectCommand, GetObjectCommand, HeadBucketCommand, HeadObjectCommand, S3Client } from '@aws-sdk/client-s3';
import { Upload } from '@aws-sdk/lib-storage';
import { DomainError } from '$lib/core/errors/domain-error';
import { saying } from '$lib/words/sayings';
import { measureOnTheWay, placeOfKey, type PaperStore } from './paper-store';

/** Which bucket of which S3-compatible store, and the sign-in to it. */
export interface S3Place {
	endpoint: string;
	region: string;
	bucket: string;
	accessKey: string;
	secretKey: string;
}

export interface S3Store extends PaperStore {
	/** Whether the bucket is there and opens. @returns what is wrong in words, or null */
	problem(): Promise<string | null>;
	close(): void;
}

// each process would say which Node.js its later versions want; the one in use is pinned
process.env.AWS_SDK_JS_NODE_VERSION_SUPPORT_WARNING_DISABLED ??= 'true';

/** What is sent at once; a smaller file goes as one. */
const PART_BYTES = 8 * 1024 * 1024;
const CONNECT_MS = 5_000;
/** A connection on which nothing moves for so long is given up. */
const SILENT_MS = 60_000;

const statusOf = (error: unknown): number | undefined => (error as { $metadata?: { httpStatusCode?: number } }).$metadata?.httpStatusCode;

/**
 * Papers in a bucket of an S3-compatible store, addressed by path (`endpoint/bucket/key`), in parts where they are large. What is cut off
 * on the way leaves nothing behind.
 * @param silentMs how long nothing may move on a connection before it is given up
 */
export function s3Store(place: S3Place, silentMs = SILENT_MS): S3Store {
	const client = new S3Client({
		endpoint: place.endpoint,
		region: place.region,
		credentials: { accessKeyId: place.accessKey, secretAccessKey: place.secretKey },
		forcePathStyle: true,
		// checksums behind the content are not understood by every store
		requestChecksumCalculation: 'WHEN_REQUIRED',
		responseChecksumValidation: 'WHEN_REQUIRED',
		requestHandler: { connectionTimeout: CONNECT_MS, socketTimeout: silentMs }
	});
	const at = (key: string) => ({ Bucket: place.bucket, Key: placeOfKey(key) });

	const put: PaperStore['put'] = async (content, maxBytes, signal, key = randomUUID()) => {
		const { measure, measured } = measureOnTheWay(maxBytes);
		const upload = new Upload({ client, params: { ...at(key), Body: measure }, partSize: PART_BYTES, queueSize: 1, leavePartsOnError: false });
		// what went wrong on our side is told as it is; everything else is the store's
		let own: unknown;
		for (const ours of [content, measure]) ours.once('error', (error: Error) => (own ??= error));
		const sent = await Promise.allSettled([
			pipeline(content, measure, { signal }).catch(async (error: unknown) => {
				await upload.abort();
				throw error;
			}),
			upload.done().catch((error: unknown) => {
				measure.destroy();
				throw error;
			})
		]);
		if (sent.some(({ status }) => status === 'rejected')) {
			// it may have arrived all the same, with only the answer lost
			await client.send(new DeleteObjectCommand(at(key))).catch(() => undefined);
			if (signal?.aborted) throw signal.reason;
			throw isOwn(own) ? own : new DomainError('storage_full', saying('wrong.paper.storeAway'));
		}
		return { key, ...(await measured()) };
	};
	return {
		put,
		putBuffer: (content) => put(Readable.from([Buffer.from(content)]), content.byteLength),
		read(key, range) {
			const through = new PassThrough();
			const ending = new AbortController();
			// whoever stops reading ends the request too
			through.once('close', () => ending.abort());
			client
				.send(new GetObjectCommand({ ...at(key), Range: range && `bytes=${range.start}-${range.end}` }), { abortSignal: ending.signal })
				.then(({ Body }) => pipeline(Body as Readable, through))
				.catch((error: Error) => through.destroy(error));
			return through;
		},
		async size(key) {
			try {
				return (await client.send(new HeadObjectCommand(at(key)))).ContentLength ?? 0;
			} catch (error) {
				if (statusOf(error) === 404) throw new Error(`there is no file ${key} in the store`, { cause: error });
				throw new DomainError('storage_full', saying('wrong.paper.storeAway'));
			}
		},
		remove: async (key) => void (await client.send(new DeleteObjectCommand(at(key)))),
		async problem() {
			try {
				await client.send(new HeadBucketCommand({ Bucket: place.bucket }));
				return null;
			} catch (error) {
				const status = statusOf(error);
				return status === 404
					? 'S3_BUCKET: there is no such bucket'
					: status === 401 || status === 403
						? 'S3_ACCESS_KEY: the store refuses this sign-in for the bucket'
						: `S3_ENDPOINT: no store answers there (${(error as { code?: string }).code ?? (error as Error).name})`;
			}
		},
		close: () => client.destroy()
	};
}

/** Whether something failed by itself, and was not only ended because something else had failed. */
const isOwn = (error: unknown): boolean =>
	error !== undefined && !['ABORT_ERR', 'ERR_STREAM_PREMATURE_CLOSE'].includes((error as { code?: string }).code ?? '');
