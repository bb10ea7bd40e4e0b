import { error, type ActionFailure, type Cookies, type RequestEvent } from '@sveltejs/kit';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { deviceInWords } from '$lib/core/people/device-words';
import { requiredPhone, phoneInWords } from '$lib/core/people/phone';
import { mailedCodeSchema, passkeyNameSchema, totpSchema } from '$lib/core/people/second-step';
import { saying } from '$lib/words/sayings';
import { timeWords } from '$lib/words/dates';
import { say, sayer } from '$lib/words/words';
import type { Actor } from '$lib/server/actor';
import { recordEvent } from '$lib/server/audit/record-event';
import { loadFirm } from '$lib/server/firms/firm';
import { idParam, inForm, type FormProblem } from './form-errors';
import { endSessions, readSessions } from '$lib/server/people/devices';
import { beginPasskey, keepPasskey, parsePasskeyAnswer, readPasskeys, removePasskey } from '$lib/server/people/passkeys';
import { readPerson, type Person, type PersonRef } from '$lib/server/people/person';
import {
	beginAuthenticator,
	confirmAuthenticator,
	isSecondStepRequired,
	makeRecoveryCodes,
	readSecondSteps,
	removeAuthenticator,
	tellChange
} from '$lib/server/people/second-step';
import { changeOwnPassword, PasswordRefused, requirePassword } from '$lib/server/people/change-password';
import { beginTextCodes, confirmTextCodes, phoneForCodes, removeTextCodes } from '$lib/server/people/text-codes';
import { wallTime } from '$lib/server/platform/clock';
import type { Tx } from '$lib/server/platform/db/database';
import { webContext, type WebContext } from './web-context';

type YouEvent = { locals: App.Locals; request: Request; cookies: Cookies } & Pick<RequestEvent, 'url'>;

function signedInOf({ locals }: { locals: App.Locals }) {
	if (!locals.signedIn) error(401, say(locals.language, 'wrong.signedOut'));
	return locals.signedIn;
}

/** Runs in the person's own rows: a contact's transaction sees no others. */
async function asOneself<T>(event: { locals: App.Locals }, work: (tx: Tx, person: PersonRef) => Promise<T>): Promise<T> {
	const me = signedInOf(event);
	const { db } = await webContext();
	return db.inFirm(me.firmId, (tx) => work(tx, { kind: me.kind, id: me.personId }), me.kind === 'contact' ? me.personId : undefined);
}

/** How somebody signs in, and where they are signed in. */
export async function loadYou(event: { locals: App.Locals }) {
	const me = signedInOf(event);
	const say = sayer(me.locale);
	const { texts } = await webContext();
	return asOneself(event, async (tx, person) => {
		const { calendar, country } = await loadFirm(tx);
		const phone = await phoneForCodes(tx, person);
		const time = (at: string) => timeWords(me.locale, at, calendar.timeZone);
		return {
			you: {
				name: me.name,
				email: me.email,
				mustSetUp: me.mustSetUp,
				required: await isSecondStepRequired(tx, me.kind),
				...(await readSecondSteps(tx, person)),
				phone: phone && phoneInWords(phone, country),
				mayText: texts !== null,
				keys: (await readPasskeys(tx, person)).map((key) => ({
					id: key.id,
					name: key.name,
					madeAt: time(key.madeAt),
					lastUsedAt: key.lastUsedAt && time(key.lastUsedAt)
				})),
				sessions: (await readSessions(tx, person, event.locals.actor.now)).map((session) => {
					const device = deviceInWords(session.userAgent);
					return {
						id: session.id,
						device: device ? say('you.device', device) : say('you.device.unknown'),
						ip: session.ip,
						lastUsedAt: time(session.lastUsedAt),
						trustedUntil: session.trustedUntil && time(session.trustedUntil),
						here: session.id === me.sessionId
					};
				})
			}
		};
	});
}

const nameOf = (form: FormData) => passkeyNameSchema.parse(form.get('name') ?? '');

type YouAct = (event: YouEvent, form: FormData) => Promise<Record<string, unknown>>;

/** An act that is only done once the person has written their password again. */
function withPassword(work: (tx: Tx, actor: Actor, person: Person, form: FormData, opened: WebContext) => Promise<Record<string, unknown>>): YouAct {
	return async (event, form) => {
		const opened = await webContext();
		const { actor } = event.locals;
		return asOneself(event, async (tx, ref) =>
			work(tx, actor, await requirePassword(opened, tx, actor, ref, String(form.get('ownPassword') ?? '')), form, opened)
		);
	};
}

/** What one can do about one's own sign-in. Whatever changes it asks for the password again. */
const ACTS = {
	beginAuthenticator: withPassword(async (tx, actor, person, _form, { settings }) => {
		const { name } = await loadFirm(tx);
		return { authenticator: await beginAuthenticator(tx, actor, person, { secretKey: settings.SECRET_KEY, issuer: name }) };
	}),
	async confirmAuthenticator(event, form) {
		const { settings, clock } = await webContext();
		const code = totpSchema.parse(form.get('code') ?? '');
		const { actor } = event.locals;
		const place = { secretKey: settings.SECRET_KEY, wallNow: wallTime(clock, actor.now) };
		return asOneself(event, async (tx, ref) => ({ codes: await confirmAuthenticator(tx, actor, await oneself(tx, ref), code, place) }));
	},
	removeAuthenticator: withPassword(async (tx, actor, person) => {
		await removeAuthenticator(tx, actor, person);
		return { done: true };
	}),
	beginText: withPassword(async (tx, actor, person, form, { limits, texts }) => {
		if (!texts) throw new DomainError('invalid', saying('wrong.text.none'));
		const { country } = await loadFirm(tx);
		await beginTextCodes(tx, limits, actor, person, requiredPhone(country).parse(String(form.get('phone') ?? '')));
		return { texted: true };
	}),
	async confirmText(event, form) {
		const { limits } = await webContext();
		const code = mailedCodeSchema.parse(form.get('code') ?? '');
		const { actor } = event.locals;
		const confirmed = await asOneself(event, async (tx, ref) => {
			await limits.codeTry(ref.id, actor.ip);
			return confirmTextCodes(tx, actor, await oneself(tx, ref), code);
		});
		if (confirmed === 'wrong') throw new DomainError('invalid', saying('wrong.code.mailed'), { code: saying('wrong.code.mailed') });
		return confirmed;
	},
	removeText: withPassword(async (tx, actor, person) => {
		await removeTextCodes(tx, actor, person);
		return { done: true };
	}),
	beginPasskey: withPassword(async (tx, actor, person, _form, { settings }) => {
		const { name } = await loadFirm(tx);
		return { passkey: await beginPasskey(tx, actor, person, { origin: settings.ORIGIN, firmName: name }) };
	}),
	async keepPasskey(event, form) {
		const { settings } = await webContext();
		const challengeId = z.uuid().parse(form.get('challengeId'));
		const answer = parsePasskeyAnswer(String(form.get('answer') ?? ''));
		const input = { challengeId, answer, name: nameOf(form) };
		return asOneself(event, async (tx, ref) => ({
			codes: await keepPasskey(tx, event.locals.actor, await oneself(tx, ref), input, { origin: settings.ORIGIN })
		}));
	},
	removePasskey: withPassword(async (tx, actor, person, form) => {
		await removePasskey(tx, actor, person, idParam(String(form.get('passkeyId') ?? '')));
		return { done: true };
	}),
	newCodes: withPassword(async (tx, actor, person) => {
		const codes = await makeRecoveryCodes(tx, actor, person);
		await tellChange(tx, actor, person, 'recovery_codes_made');
		return { codes };
	}),
	async changePassword(event, form) {
		const me = signedInOf(event);
		const password = String(form.get('password') ?? '');
		try {
			await changeOwnPassword(
				await webContext(),
				event.locals.actor,
				{ firmId: me.firmId, sessionId: me.sessionId, person: { kind: me.kind, id: me.personId } },
				{ ownPassword: String(form.get('ownPassword') ?? ''), password }
			);
		} catch (cause) {
			if (!(cause instanceof PasswordRefused)) throw cause;
			const what = saying(`join.problem.${cause.problem}`, { count: [...password].length });
			throw new DomainError('invalid', what, { password: what });
		}
		return { done: true };
	},
	async endSession(event, form) {
		const me = signedInOf(event);
		const wanted = String(form.get('sessionId') ?? '');
		return asOneself(event, async (tx, ref) => {
			const ended = await endSessions(tx, ref, event.locals.actor.now, wanted ? idParam(wanted) : null, me.sessionId);
			if (ended > 0) await recordEvent(tx, event.locals.actor, { verb: 'sessions_ended', contactId: ref.kind === 'contact' ? ref.id : null });
			return { done: true };
		});
	}
} satisfies Record<string, YouAct>;

async function oneself(tx: Tx, ref: PersonRef) {
	const person = await readPerson(tx, ref);
	if (!person) error(401, 'Please sign in.');
	return person;
}

/** Runs one of the acts from a form. */
async function doYou(event: YouEvent, act: keyof typeof ACTS): Promise<Record<string, unknown> | ActionFailure<{ problem: FormProblem }>> {
	const me = signedInOf(event);
	const form = await event.request.formData();
	return inForm(form, () => (ACTS[act] as YouAct)(event, form), me.locale);
}

/** The form actions of both sides' pages. */
export const youActions = {
	beginAuthenticator: (event: YouEvent) => doYou(event, 'beginAuthenticator'),
	confirmAuthenticator: (event: YouEvent) => doYou(event, 'confirmAuthenticator'),
	removeAuthenticator: (event: YouEvent) => doYou(event, 'removeAuthenticator'),
	beginText: (event: YouEvent) => doYou(event, 'beginText'),
	confirmText: (event: YouEvent) => doYou(event, 'confirmText'),
	removeText: (event: YouEvent) => doYou(event, 'removeText'),
	beginPasskey: (event: YouEvent) => doYou(event, 'beginPasskey'),
	keepPasskey: (event: YouEvent) => doYou(event, 'keepPasskey'),
	removePasskey: (event: YouEvent) => doYou(event, 'removePasskey'),
	newCodes: (event: YouEvent) => doYou(event, 'newCodes'),
	changePassword: (event: YouEvent) => doYou(event, 'changePassword'),
	endSession: (event: YouEvent) => doYou(event, 'endSession')
} satisfies Record<keyof typeof ACTS, unknown>;
