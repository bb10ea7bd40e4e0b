import { hostname } from 'node:os';
import { doWhatIsDue } from '$lib/server/due/do-what-is-due';
import { readAllFirms } from '$lib/server/platform/db/all-firms';
import { openContext } from '$lib/server/context/app-context';
import { markStuckMessages, requeueLostMessages } from '$lib/server/messages/stuck-messages';
import { takeInReport } from '$lib/server/messages/settle-message';
import { type SendingPlace } from '$lib/server/messages/send-message';
import { roleOptions } from '$lib/server/platform/db/database';
import { prepareStart, StartRefused } from '$lib/server/platform/before-start';
import { encryptAnew } from '$lib/server/platform/encrypt-anew';
import { UPLOAD_KEPT_HOURS, uploadsFolder } from '$lib/server/papers/unfinished-uploads';
import { removeOldUploads, removePartialFiles } from '$lib/server/platform/files/paper-store';
import { isClockMoving } from '$lib/server/platform/demo-clock';
import { refreshCheckTerms } from '$lib/server/platform/identity-checks/terms';
import { errorForLog, log } from '$lib/server/platform/log';
import { forgetBeat, noteBeat } from '$lib/server/platform/worker-beat';
import { MAIL_MOST_BYTES } from '$lib/core/arrivals/incoming-mail';
import { scanWaiting } from '$lib/server/papers/scanning';
import { mayReceive, takeIn } from '$lib/server/talk/answers-by-mail';
import { receiveMail } from '$lib/server/platform/mail/mail-receiver';
import { receiveReports } from '$lib/server/platform/mail/bounce-receiver';
import { settings, SettingsRefused } from '$lib/server/platform/settings';
import { taskList } from './jobs';
import { runQueue } from './run-queue';

/** The job process: sends what is planned, chases what is due, frees what a dead worker held. */
async function main(): Promise<void> {
	const given = settings();
	await prepareStart(given, 'worker');
	const context = await openContext(given);
	const place: SendingPlace = {
		db: context.db,
		clock: context.clock,
		mailer: context.mailer,
		texts: context.texts,
		papers: context.papers,
		origin: given.ORIGIN,
		secretKey: given.SECRET_KEY,
		bounceDomain: given.BOUNCE_DOMAIN,
		...(given.PAPERS_MAIL_DOMAIN && given.PAPERS_SMTP_PORT ? { replyDomain: given.PAPERS_MAIL_DOMAIN } : {})
	};
	const asQueue = roleOptions(given, 'lantern_queue');
	const name = `${hostname()} ${process.pid}`;
	const queue = await runQueue(asQueue, taskList({ context, place, asQueue }));
	const bounces = given.BOUNCE_SMTP_PORT
		? await receiveReports(given.BOUNCE_SMTP_PORT, (report) => takeInReport(context.db, context.clock.now(), report))
		: null;

	const { PAPERS_MAIL_DOMAIN: domain, PAPERS_SMTP_PORT: papersPort } = given;
	const mailPlace =
		domain && papersPort ? { db: context.db, papers: context.papers, domain, secretKey: given.SECRET_KEY, origin: given.ORIGIN } : null;
	const papersByMail = mailPlace
		? await receiveMail(
				{ port: papersPort!, mostBytes: MAIL_MOST_BYTES },
				(address) => mayReceive(mailPlace, address),
				async (mail) => void (await takeIn(mailPlace, context.clock.now(), mail))
			)
		: null;

	let stopping = false;
	/** papers that no scanner has seen yet are looked through beside everything else: a large one takes a while */
	let scanning = false;
	const scan = async () => {
		const { scanner } = context;
		if (!scanner || scanning) return;
		scanning = true;
		try {
			for (const id of await readAllFirms(context.db)) while (!stopping && (await scanWaiting({ ...context, scanner }, id, context.clock.now())) > 0);
		} catch (error) {
			log.warn(errorForLog(error), 'papers are held back: the scanner does not answer');
		} finally {
			scanning = false;
		}
	};
	/** what the service that checks identities costs is asked beside everything else: one that hangs holds nothing up */
	let asking = false;
	const askTerms = async () => {
		if (asking) return;
		asking = true;
		await refreshCheckTerms(context.db, context.identity, context.clock.now()).catch((error) => {
			// a worker that stops does not wait for the service, and asks again when it starts
			if (!stopping) log.error(errorForLog(error), 'terms were not kept');
		});
		asking = false;
	};
	let beating: Promise<void> = Promise.resolve();
	const beat = async () => {
		await queue.look();
		const unclear = await markStuckMessages(place);
		if (unclear > 0) log.warn({ unclear }, 'messages are unclear');
		void scan();
		void askTerms();
		const lost = await requeueLostMessages(place);
		if (lost > 0) log.warn({ lost }, 'messages had lost their jobs');
		await removePartialFiles(given.PAPERS_FOLDER, 24 * 3600 * 1000);
		await removeOldUploads(uploadsFolder(given.PAPERS_FOLDER), UPLOAD_KEPT_HOURS * 3600 * 1000);
		if (!(await isClockMoving(context.db)))
			for (const id of await readAllFirms(context.db)) {
				const { appeared, planned } = await doWhatIsDue(context, id, context.clock.now());
				if (appeared > 0) log.info({ appeared }, 'requests appeared');
				if (planned > 0) log.info({ planned }, 'messages planned');
			}
		await noteBeat(context.db, name);
	};
	const loop = async () => {
		while (!stopping) {
			beating = beat().catch((error) => log.error(errorForLog(error), 'beat failed'));
			await beating;
			await new Promise((resolve) => setTimeout(resolve, given.WORKER_BEAT_SECONDS * 1000).unref());
		}
	};
	encryptAnew(context.db, given.SECRET_KEY).catch((error) => log.error(errorForLog(error), 'not encrypted anew'));

	const stop = async () => {
		if (stopping) return;
		stopping = true;
		await queue.stop();
		await beating;
		await bounces?.close();
		await papersByMail?.close();
		await forgetBeat(context.db, name).catch(() => undefined);
		await context.close();
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
