import { z } from 'zod';

/** What the queue holds: every job by its name, with what it is given. The worker has one file for each. */
export const JOBS = {
	/** sends one planned message */
	send_message: z.object({ firmId: z.uuid(), messageId: z.uuid() }),
	/** tells whom a message is for, on the devices on which they want it, that there is something new */
	tell_devices: z.object({ firmId: z.uuid(), messageId: z.uuid() }),
	/** mails what somebody asked for who is not signed in; whether their address is known is only looked up when they have their answer */
	mail_from_door: z.object({
		what: z.enum(['code', 'reset']),
		kind: z.enum(['staff', 'contact']),
		email: z.string().max(320),
		firmId: z.uuid().nullable(),
		/** of the token that whoever asked for a code was given, as hex */
		tokenHash: z.string().nullable(),
		from: z.object({ now: z.iso.datetime(), ip: z.string(), userAgent: z.string() })
	}),
	/** imports a list that was looked at and decided on */
	run_import: z.object({ firmId: z.uuid(), importId: z.uuid(), staffId: z.uuid() }),
	/** fills an empty practice workspace */
	fill_practice: z.object({ practiceId: z.uuid(), staffId: z.uuid() }),
	/** sends the drafts of one run, one after another */
	send_drafts: z.object({ firmId: z.uuid(), runId: z.uuid(), staffId: z.uuid() }),
	/** brings about what accepted answers bring about */
	bring_about: z.object({ firmId: z.uuid(), itemId: z.uuid() }),
	/** does what follows from where a letter stands: asks whoever is next, ends it for the others, or seals it */
	letter_goes_on: z.object({ firmId: z.uuid(), letterId: z.uuid() }),
	/** seals answers that were signed */
	seal_answers: z.object({ firmId: z.uuid(), id: z.uuid() }),
	/** tells somebody that another one of their client asks them for answers, or that these are there */
	tell_passed: z.object({ firmId: z.uuid(), id: z.uuid(), done: z.boolean() }),
	/** reads the words of a paper that came by itself */
	read_paper: z.object({ firmId: z.uuid(), paperId: z.uuid() }),
	learn_statement: z.object({ firmId: z.uuid(), statementId: z.uuid() }),
	/** moves the demo's clock forward */
	move_demo_clock: z.object({ to: z.iso.datetime() })
} as const satisfies Record<string, z.ZodType>;
export type JobName = keyof typeof JOBS;
export type JobPayload<Name extends JobName> = z.output<(typeof JOBS)[Name]>;
