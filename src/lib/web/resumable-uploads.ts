import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { join } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { FileStore } from '@tus/file-store';
import { Server, type ServerOptions } from '@tus/server';
import { DomainError } from '$lib/core/errors/domain-error';
import { PAPER_MAX_BYTES } from '$lib/core/papers/file-name';
import { inWords, saying } from '$lib/words/sayings';
import type { Actor } from '$lib/server/actor';
import { errorInWords, STATUS } from './form-errors';
import type { Database, Tx } from '$lib/server/platform/db/database';
import { isDiskFull } from '$lib/server/platform/files/paper-store';
import { errorForLog, log } from '$lib/server/platform/log';
import { bytesOfUpload, forgetUpload, noteBegunUpload } from '$lib/server/papers/unfinished-uploads';

/** What a file is for that is being sent. */
export interface UploadInto {
	/** tells it from uploads for something else: nobody goes on with one elsewhere */
	purpose: string;
	/** Rights and room, asked before anything of it is taken. @param slot which place of several it is for, as the sender names it */
	allowed(tx: Tx, slot: string | null): Promise<void>;
	/** Takes the whole file in. @param file.id of an upload that may be reported as finished more than once: then there is one paper all the same */
	take(file: { id?: string; name: string; slot: string | null; content: Readable; signal?: AbortSignal }): Promise<object>;
}

/** Whose upload it is, and for what. */
export interface UploadBy {
	place: { db: Database };
	firmId: string;
	actor: Actor;
	into: UploadInto;
	locale: string;
}

export interface ResumableUploads {
	/**
	 * Answers one request of the tus protocol, version 1.0: begins an upload, tells how far it came, goes on with it, gives it up.
	 * @param uploadId null to begin one
	 */
	answer(request: Request, by: UploadBy, uploadId: string | null): Promise<Response>;
}

type HookRequest = Parameters<NonNullable<ServerOptions['onUploadFinish']>>[0];
type StoredUpload = Awaited<ReturnType<FileStore['getUpload']>>;

/** Where uploads are gathered; the package's own store does not tell a full disk from other mishaps. */
class UploadStore extends FileStore {
	override async write(content: Readable, id: string, offset: number): Promise<number> {
		let bytes = 0;
		const counted = new Transform({
			transform(chunk: Buffer, _, done) {
				bytes += chunk.length;
				done(null, chunk);
			}
		});
		try {
			await pipeline(content, counted, createWriteStream(join(this.directory, id), { flags: 'r+', start: offset }));
		} catch (error) {
			if (isDiskFull(error)) throw new DomainError('storage_full', saying('wrong.paper.noRoom'));
			throw error;
		}
		return offset + bytes;
	}
}

/**
 * Uploads that go on after a lost connection. A file is gathered apart, in a folder of its own; once it is whole it is taken in
 * like any other, under the upload's own id, so that however often its end is reported there is one paper.
 */
export function resumableUploads(folder: string): ResumableUploads {
	const store = new UploadStore({ directory: folder });
	const askedBy = new WeakMap<Request, UploadBy & { uploadId: string | null }>();
	const ofRequest = (request: HookRequest) => askedBy.get(request as unknown as Request)!;

	/** A person's mistake, as the protocol's client shows it. A conflict would be tried again by itself, so it goes as gone. */
	const refused = (by: UploadBy, error: unknown) => {
		if (!(error instanceof DomainError)) return error;
		const status = error.code === 'too_many' ? 413 : error.code === 'changed_meanwhile' ? 410 : STATUS[error.code];
		return { status_code: status, body: errorInWords(by.locale, error).message };
	};

	const inFirm = <T>(by: UploadBy, work: (tx: Tx) => Promise<T>) =>
		by.place.db.inFirm(by.firmId, work, by.actor.kind === 'contact' ? by.actor.id! : undefined);
	const forget = (by: UploadBy, uploadId: string) => inFirm(by, (tx) => forgetUpload(tx, uploadId));

	/** Takes a file in that has come whole. */
	async function finish(by: UploadBy, upload: StoredUpload): Promise<void> {
		try {
			await by.into.take({
				id: upload.id,
				name: upload.metadata?.filename ?? '',
				slot: upload.metadata?.slot ?? null,
				content: store.read(upload.id)
			});
		} finally {
			await store.remove(upload.id).catch(() => undefined);
			await forget(by, upload.id);
		}
	}

	const server = new Server({
		path: '/',
		datastore: store,
		maxSize: PAPER_MAX_BYTES,
		// nobody else's page may talk to this
		allowedOrigins: () => false,
		namingFunction: () => randomUUID(),
		generateUrl: (request, { id }) => `${new URL(request.url).pathname.replace(/\/$/, '')}/${id}`,
		getFileIdFromRequest: (request) => ofRequest(request).uploadId ?? undefined,
		async onUploadCreate(request, upload) {
			const by = ofRequest(request);
			try {
				const { size } = upload;
				if (size === undefined) throw new DomainError('invalid', saying('wrong.paper.none'));
				await inFirm(by, async (tx) => {
					await by.into.allowed(tx, upload.metadata?.slot || null);
					await noteBegunUpload(tx, by.actor, upload.id, size);
				});
			} catch (error) {
				throw refused(by, error);
			}
			const { filename, slot } = upload.metadata ?? {};
			return { metadata: { filename: filename ?? '', slot: slot || null, purpose: by.into.purpose, by: by.actor.id } };
		},
		async onUploadFinish(request, upload) {
			const by = ofRequest(request);
			try {
				await finish(by, upload as StoredUpload);
			} catch (error) {
				throw refused(by, error);
			}
			return {};
		},
		onResponseError(request, error) {
			if ('status_code' in error) return undefined;
			if (error instanceof DomainError) return refused(ofRequest(request), error) as { status_code: number; body: string };
			if (isDiskFull(error)) return { status_code: STATUS.storage_full, body: inWords(ofRequest(request).locale, saying('wrong.paper.noRoom')) };
			// whoever sent it went away in the middle: what came is kept
			if (!(request as unknown as Request).signal?.aborted) log.warn(errorForLog(error), 'an upload was broken off');
			return { status_code: 500, body: '' };
		}
	});

	return {
		async answer(request, by, uploadId) {
			if (uploadId) {
				const known = await store.getUpload(uploadId).catch(() => null);
				const own = known?.metadata?.purpose === by.into.purpose && known.metadata.by === by.actor.id;
				if (!known || !own) {
					const taken = await inFirm(by, (tx) => bytesOfUpload(tx, by.actor, uploadId));
					// its last answer was lost on the way: it is here
					if (taken !== null && request.method === 'HEAD') return complete(taken);
					return new Response(null, { status: 404, headers: { 'tus-resumable': '1.0.0' } });
				}
				// the process ended between the last byte and taking it in
				if (known.size !== undefined && known.offset === known.size && request.method === 'HEAD') {
					try {
						await finish(by, known);
					} catch (error) {
						if (error instanceof DomainError) return new Response(null, { status: 410, headers: { 'tus-resumable': '1.0.0' } });
						throw error;
					}
					return complete(known.size);
				}
			}
			askedBy.set(request, { ...by, uploadId });
			const answer = await server.handleWeb(request as Parameters<typeof server.handleWeb>[0]);
			if (uploadId && request.method === 'DELETE') await forget(by, uploadId);
			return answer;
		}
	};
}

const complete = (bytes: number) =>
	new Response(null, {
		headers: { 'tus-resumable': '1.0.0', 'upload-offset': String(bytes), 'upload-length': String(bytes), 'cache-control': 'no-store' }
	});
