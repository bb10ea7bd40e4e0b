import type { TaskList } from 'graphile-worker';
import { JOBS, type JobName } from '$lib/core/jobs';
import type { Job, JobTools } from './job';
import { bringAboutJob } from './jobs/bring-about';
import { fillPracticeJob } from './jobs/fill-practice';
import { mailFromDoorJob } from './jobs/mail-from-door';
import { letterGoesOnJob } from './jobs/letter-goes-on';
import { moveDemoClockJob } from './jobs/move-demo-clock';
import { learnStatementJob } from './jobs/learn-statement';
import { readPaperJob } from './jobs/read-paper';
import { sealAnswersJob } from './jobs/seal-answers';
import { runImportJob } from './jobs/run-import';
import { sendDraftsJob } from './jobs/send-drafts';
import { sendMessageJob } from './jobs/send-message';
import { tellDevicesJob } from './jobs/tell-devices';
import { tellPassedJob } from './jobs/tell-passed';

/** How each job is done. */
const WORK: { [Name in JobName]: Job<Name> } = {
	send_message: sendMessageJob,
	mail_from_door: mailFromDoorJob,
	run_import: runImportJob,
	fill_practice: fillPracticeJob,
	send_drafts: sendDraftsJob,
	bring_about: bringAboutJob,
	letter_goes_on: letterGoesOnJob,
	seal_answers: sealAnswersJob,
	tell_passed: tellPassedJob,
	tell_devices: tellDevicesJob,
	read_paper: readPaperJob,
	learn_statement: learnStatementJob,
	move_demo_clock: moveDemoClockJob
};

/** The jobs as the queue calls them: what they are given is checked first. */
export function taskList(tools: JobTools): TaskList {
	const task =
		<Name extends JobName>(name: Name) =>
		(payload: unknown) =>
			(WORK[name] as Job<JobName>)(JOBS[name].parse(payload), tools);
	return Object.fromEntries((Object.keys(JOBS) as JobName[]).map((name) => [name, task(name)]));
}
