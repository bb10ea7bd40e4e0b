import { hostname } from 'node:os';
import { z } from 'zod';
import { doWhatIsDue } from '$lib/server/chasing/do-what-is-due';
import { runImport } from '$lib/server/clients/import/run-import';
import { forgetRemovedDrafts } from '$lib/server/requests/drafts';
import { sendDraftsOfRun } from '$lib/server/requests/ask-many';
import { removeExpiredSecrets } from '$lib/server/requests/secrets';
import { doorMailSchema, mailFromDoor } from '$lib/server/people/sign-in';
import { openHouse } from '$lib/server/house';
import { markStuckMessages, requeueLostMessages, sendMessage, takeInReport, type SendingPlace } from '$lib/server/messages/send-message';
import { wallTime } from '$lib/server/platform/clock';
import { roleOptions } from '$lib/server/platform/db/database';
import { prepareStart, StartRefused } from '$lib/server/platform/before-start';
import { encryptAnew } from '$lib/server/platform/encrypt-anew';
import { forgetOldUploads, UPLOAD_KEPT_HOURS, uploadsFolder } from '$lib/server/papers/resumable-uploads';
import { removeOldUploads, removePartialFiles } from '$lib/server/platform/files/paper-store';
import { errorForLog, log } from '$lib/server/platform/log';
import { receiveReports } from '$lib/server/platform/mail/bounce-receiver';
import { settings, SettingsRefused } from '$lib/server/platform/settings';
import { fillPractice } from './fill-practice';
import { moveDemoClock } from './move-demo-clock';
import { runQueue } from './run-queue';
import { onlyOnce } from './watch-workers';

const sendJob = z.object({ firmId: z.uuid(), messageId: z.uuid() });
const importJob = z.object({ firmId: z.uuid(), importId: z.uuid(), staffId: z.uuid() });
const practiceJob = z.object({ practiceId: z.uuid(), staffId: z.uuid() });
const draftsJob = z.object({ firmId: z.uuid(), runId: z.uuid(), staffId: z.uuid() });
const clockJob = z.object({ to: z.iso.datetime() });

/** The job process: sends what is planned, chases what is due, frees what a dead worker held. */
async function main(): Promise<void> {
	const given = settings();
	await prepareStart(given, 'worker');
	const house = await openHouse(given);
	const place: SendingPlace = {
		db: house.db,
		clock: house.clock,
		mailer: house.mailer,
		texts: house.texts,
		papers: house.papers,
		origin: given.ORIGIN,
		secretKey: given.SECRET_KEY,
		bounceDomain: given.BOUNCE_DOMAIN
	};
	const asQueue = roleOptions(given, 'lantern_queue');
	const name = `${hostname()} ${process.pid}`;
	const queue = await runQueue(asQueue, {
		send_message: async (payload) => {
			const job = sendJob.parse(payload);
			const answer = await sendMessage(place, job.firmId, job.messageId);
			if (typeof answer === 'object') {
				await house.db.ask(`select enqueue_job('send_message', $1, null, $2)`, [JSON.stringify(job), wallTime(house.clock, answer.at)]);
			}
		},
		mail_from_door: async (payload) => mailFromDoor(house.db, doorMailSchema.parse(payload)),
		run_import: async (payload) => {
			const job = importJob.parse(payload);
			await onlyOnce(asQueue, `import ${job.importId}`, () => runImport(house, job.firmId, job.importId, job.staffId, house.clock.now()));
		},
		fill_practice: async (payload) => {
			const job = practiceJob.parse(payload);
			await onlyOnce(asQueue, `practice ${job.practiceId}`, () => fillPractice(house, place, job.practiceId, job.staffId));
		},
		send_drafts: async (payload) => {
			const job = draftsJob.parse(payload);
			const { sent, left } = await onlyOnce(asQueue, `drafts ${job.runId}`, () =>
				sendDraftsOfRun(house, job.firmId, job.runId, job.staffId, house.clock.now(), given.BULK_MAILS_PER_SECOND)
			);
			log.info({ sent, left }, 'drafts sent');
		},
		move_demo_clock: async (payload) => onlyOnce(asQueue, 'demo clock', () => moveDemoClock(house, place, clockJob.parse(payload).to))
	});
	const bounces = given.BOUNCE_SMTP_PORT
		? await receiveReports(given.BOUNCE_SMTP_PORT, (report) => takeInReport(house.db, house.clock.now(), report))
		: null;

	let stopping = false;
	let beating: Promise<void> = Promise.resolve();
	const beat = async () => {
		await queue.look();
		const unclear = await markStuckMessages(place);
		if (unclear > 0) log.warn({ unclear }, 'messages are unclear');
		const lost = await requeueLostMessages(place);
		if (lost > 0) log.warn({ lost }, 'messages had lost their jobs');
		await removePartialFiles(given.PAPERS_FOLDER, 24 * 3600 * 1000);
		await removeOldUploads(uploadsFolder(given.PAPERS_FOLDER), UPLOAD_KEPT_HOURS * 3600 * 1000);
		const [moving] = await house.db.ask<{ moving: boolean }>('select moving_to is not null as moving from demo_clock');
		if (!moving?.moving)
			for (const { id } of await house.db.ask<{ id: string }>('select id from all_firms() as t(id)')) {
				const now = house.clock.now();
				await house.db.inFirm(id, async (tx) => {
					await removeExpiredSecrets(tx, now);
					await forgetRemovedDrafts(tx, now);
					await forgetOldUploads(tx);
				});
				const { appeared, planned } = await doWhatIsDue(house.db, id, now);
				if (appeared > 0) log.info({ appeared }, 'standing requests appeared');
				if (planned > 0) log.info({ planned }, 'messages planned');
			}
		await house.db.ask('insert into worker_beat (worker, at) values ($1, clock_timestamp()) on conflict (worker) do update set at = excluded.at', [
			name
		]);
	};
	const loop = async () => {
		while (!stopping) {
			beating = beat().catch((error) => log.error(errorForLog(error), 'beat failed'));
			await beating;
			await new Promise((resolve) => setTimeout(resolve, given.WORKER_BEAT_SECONDS * 1000).unref());
		}
	};
	encryptAnew(house.db, given.SECRET_KEY).catch((error) => log.error(errorForLog(error), 'not encrypted anew'));

	const stop = async () => {
		if (stopping) return;
		stopping = true;
		await queue.stop();
		await beating;
		await bounces?.close();
		await house.db.ask('delete from worker_beat where worker = $1', [name]).catch(() => undefined);
		await house.close();
		log.info('worker stopped');
		process.exit(0);
	};
	process.on('SIGTERM', stop);
	process.on('SIGINT', stop);
	void loop();
	log.info('worker ready');
}

process.on('unhandledRejection', (reason) => log.error(errorForLog(reason), 'a promise failed that nobody waited for'));
main().catch((error: unknown) => {
	if (error instanceof StartRefused || error instanceof SettingsRefused) console.error(error.message);
	else log.fatal(errorForLog(error), 'worker cannot go on');
	process.exit(1);
});
