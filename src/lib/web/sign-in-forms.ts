import { json, redirect, type Cookies, type RequestEvent } from '@sveltejs/kit';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { mailedCodeSchema, totpSchema } from '$lib/core/people/second-step';
import { phoneHint } from '$lib/core/people/phone';
import { resetAskSchema, signInSchema } from '$lib/core/people/sign-in';
import { inWords, saying } from '$lib/words/sayings';
import { firmOfPortal } from './desk-request';
import { errorInWords, inForm, STATUS } from './form-errors';
import { askForPasskey, parsePasskeyAnswer } from '$lib/server/people/passkeys';
import { askForCode } from '$lib/server/people/door-mail';
import { askForTextCode, findSignInStep, takeSignInStep, type SignInStepAnswer } from '$lib/server/people/sign-in-steps';
import { signIn, signInWithPasskey, type SignInOutcome } from '$lib/server/people/sign-in';
import { endSession, resumeSession } from '$lib/server/people/sessions';
import { wallTime } from '$lib/server/platform/clock';
import {
	clearSignInStepCookie,
	readDeviceCookie,
	readSessionCookie,
	readSignInStepCookie,
	setDeviceCookie,
	setSessionCookie,
	setSignInStepCookie
} from './cookies';
import { webContext, type WebContext } from './web-context';

/** One of the two doors: the desk's, or a firm's portal's. */
export interface Door {
	kind: 'staff' | 'contact';
	context: WebContext;
	locale: string;
	/** whose portal it is; null at the desk */
	firmId: string | null;
	/** address of the sign-in page */
	signIn: string;
	/** where somebody signed in goes, unless they wanted to go elsewhere */
	home: string;
}

export async function deskDoor(): Promise<Door> {
	return { kind: 'staff', context: await webContext(), locale: 'en', firmId: null, signIn: '/desk/sign-in', home: '/desk/rounds' };
}

export async function portalDoor(event: Parameters<typeof firmOfPortal>[0]): Promise<Door> {
	const { context, firm, locale } = await firmOfPortal(event);
	return { kind: 'contact', context, locale, firmId: firm.id, signIn: `/portal/${firm.slug}/sign-in`, home: `/portal/${firm.slug}` };
}

type SignInEvent = Pick<RequestEvent, 'locals' | 'cookies' | 'url' | 'request'>;

export const browserOf = (cookies: Cookies, door: Pick<Door, 'kind'>) => ({ device: readDeviceCookie(cookies, door.kind) });

/** Where somebody wanted to go before they were asked to sign in; only addresses behind this door. */
function wanted(url: URL, door: Door): string {
	const to = url.searchParams.get('to');
	return to?.startsWith(door.kind === 'staff' ? '/desk/' : `${door.home}/`) ? to : door.home;
}

/** Sets the cookies of an outcome and answers where to go. Whoever was signed in here before is signed out. */
async function settle(event: Pick<SignInEvent, 'cookies' | 'url' | 'locals'>, door: Door, outcome: SignInOutcome): Promise<string> {
	if ('stepToken' in outcome) {
		setSignInStepCookie(event.cookies, door.kind, outcome.stepToken);
		return `${door.signIn}/second${event.url.search.startsWith('?to=') ? event.url.search : ''}`;
	}
	const { token, expiresAt, deviceCookie } = outcome.entered;
	const before = readSessionCookie(event.cookies, door.kind);
	const { now } = event.locals.actor;
	const left = before ? await resumeSession(door.context.db, before, door.kind, now) : null;
	if (left) await door.context.db.inFirm(left.firmId, (tx) => endSession(tx, left.sessionId, now));
	clearSignInStepCookie(event.cookies, door.kind);
	setDeviceCookie(event.cookies, door.kind, deviceCookie);
	setSessionCookie(event.cookies, door.kind, token, expiresAt, door.context.clock.offsetMs());
	return wanted(event.url, door);
}

/** Lets somebody in, or leads them on to the second step. */
export async function follow(event: Pick<SignInEvent, 'cookies' | 'url' | 'locals'>, door: Door, outcome: SignInOutcome): Promise<never> {
	redirect(303, await settle(event, door, outcome));
}

/** The form with address and password. */
export async function doSignIn(event: SignInEvent, door: Door) {
	const form = await event.request.formData();
	return inForm(
		form,
		async () => {
			const input = signInSchema.parse(Object.fromEntries(form));
			const outcome = await signIn(door.context, event.locals.actor, door.kind, input, door.firmId, browserOf(event.cookies, door));
			if (!outcome) throw new DomainError('invalid', saying('signIn.wrong'));
			await follow(event, door, outcome);
		},
		door.locale
	);
}

const passkeyBody = z.union([z.object({ ask: z.literal(true) }), z.object({ challengeId: z.uuid(), answer: z.string().max(20_000) })]);

/** Signing in with a passkey alone: asks for it, then takes the answer. */
export async function doPasskey(event: SignInEvent, door: Door): Promise<Response> {
	const parsed = passkeyBody.safeParse(await event.request.json().catch(() => null));
	if (!parsed.success) return json({ message: inWords(door.locale, saying('wrong.passkey')) }, { status: 400 });
	const place = { ...door.context, origin: door.context.settings.ORIGIN };
	const { now } = event.locals.actor;
	try {
		if ('ask' in parsed.data) {
			await door.context.limits.passkeyAsked(event.locals.actor.ip);
			return json(await askForPasskey(door.context.db, place, now, null));
		}
		const answer = parsePasskeyAnswer(parsed.data.answer);
		const entered = await signInWithPasskey(
			place,
			event.locals.actor,
			door.kind,
			{ challengeId: parsed.data.challengeId, answer },
			door.firmId,
			browserOf(event.cookies, door)
		);
		if (!entered) throw new DomainError('invalid', saying('wrong.passkey'));
		return json({ to: await settle(event, door, { entered }) });
	} catch (cause) {
		if (cause instanceof DomainError) return json({ message: errorInWords(door.locale, cause).message }, { status: STATUS[cause.code] });
		throw cause;
	}
}

/** The form that asks for a code by mail: its answer is the same whoever asked. */
export async function doAskForCode(event: SignInEvent, door: Door) {
	const form = await event.request.formData();
	return inForm(
		form,
		async () => {
			const { email } = resetAskSchema.parse(Object.fromEntries(form));
			setSignInStepCookie(event.cookies, door.kind, await askForCode(door.context, event.locals.actor, door.kind, email, door.firmId));
			return { asked: email };
		},
		door.locale
	);
}

/** The form into which the mailed code is written. */
export async function doTakeCode(event: SignInEvent, door: Door) {
	const form = await event.request.formData();
	return inForm(
		form,
		async () => {
			const code = mailedCodeSchema.parse(form.get('code') ?? '');
			await take(event, door, { by: 'mailed', code }, false, 'wrong.code.mailed');
		},
		door.locale
	);
}

async function take(event: SignInEvent, door: Door, answer: SignInStepAnswer, trust: boolean, wrong: 'wrong.code' | 'wrong.code.mailed') {
	const { context } = door;
	const { now } = event.locals.actor;
	const place = {
		...context,
		origin: context.settings.ORIGIN,
		secretKey: context.settings.SECRET_KEY,
		wallNow: wallTime(context.clock, now)
	};
	const token = readSignInStepCookie(event.cookies, door.kind) ?? '';
	const taken = await takeSignInStep(place, event.locals.actor, door.kind, token, answer, trust, browserOf(event.cookies, door));
	// who asked for a code by mail is told the same whether there was ever one
	if (answer.by === 'mailed' && typeof taken === 'string') throw new DomainError('invalid', saying(wrong), { code: saying(wrong) });
	if (taken === 'over') throw new DomainError('link_unusable', saying('wrong.step.over'));
	if (taken === 'wrong') throw new DomainError('invalid', saying(wrong), { code: saying(wrong) });
	await follow(event, door, taken);
}

/** What the page of the second step offers; leads back to the sign-in if nobody waits there. */
export async function loadSecond(event: { cookies: Cookies; locals: App.Locals }, door: Door) {
	const step = await findSignInStep(door.context.db, readSignInStepCookie(event.cookies, door.kind) ?? '', event.locals.actor.now);
	if (!step || step.kind !== 'second' || step.person.kind !== door.kind) redirect(303, door.signIn);
	const passkey =
		step.passkeys > 0 ? await askForPasskey(door.context.db, { origin: door.context.settings.ORIGIN }, event.locals.actor.now, step) : null;
	return {
		authenticator: step.authenticator,
		phone: step.phone && phoneHint(step.phone),
		passkey,
		recoveryCodes: step.recoveryCodes > 0,
		signIn: door.signIn
	};
}

const secondSchema = z.union([
	z.object({ by: z.literal('totp'), code: totpSchema }),
	z.object({ by: z.literal('text'), code: mailedCodeSchema }),
	z.object({ by: z.literal('recovery'), code: z.string().max(100) }),
	z.object({ by: z.literal('passkey'), challengeId: z.uuid(), answer: z.string().max(20_000) })
]);

/** The form of the second step; it also asks for a code by text. */
export async function doSecond(event: SignInEvent, door: Door) {
	const form = await event.request.formData();
	return inForm(
		form,
		async () => {
			if (form.get('by') === 'ask_text') {
				const token = readSignInStepCookie(event.cookies, door.kind) ?? '';
				if (!(await askForTextCode(door.context, event.locals.actor, door.kind, token)))
					throw new DomainError('link_unusable', saying('wrong.step.over'));
				return { texted: true };
			}
			const parsed = secondSchema.safeParse(Object.fromEntries(form));
			if (!parsed.success) throw new DomainError('invalid', saying('wrong.code.form'), { code: saying('wrong.code.form') });
			const answer: SignInStepAnswer =
				parsed.data.by === 'passkey' ? { ...parsed.data, answer: parsePasskeyAnswer(parsed.data.answer) } : parsed.data;
			await take(event, door, answer, form.get('trust') === 'yes', answer.by === 'text' ? 'wrong.code.mailed' : 'wrong.code');
		},
		door.locale
	);
}
