import { createHash } from 'node:crypto';
import type { Cookies } from '@sveltejs/kit';
import { z } from 'zod';
import { type Language } from '$lib/core/people/languages';
import { languageField } from '$lib/core/people/language-field';
import { LETTER_VISIT_HOURS } from '$lib/core/signing/ways';
import { SIGN_IN_STEP_MINUTES } from '$lib/core/people/second-step';
import { settings } from '$lib/server/platform/settings';

type Side = 'staff' | 'contact';
/**
 * How cookies are named and set. Where the address is a safe one they have the prefix by which browsers take them from this host alone,
 * over a safe line (RFC 6265bis, `__Host-`): no other host beside ours can give one in its place. The prefix allows no path of their own;
 * without it each side has its own.
 * @param origin of the product, as in `ORIGIN`
 */
export function cookieRules(origin: string) {
	const secure = origin.startsWith('https:');
	return {
		nameOf: (name: string) => (secure ? `__Host-${name}` : name),
		options: (side: Side) => ({ path: secure ? '/' : PATHS[side], httpOnly: true, secure, sameSite: 'lax' as const })
	};
}
const PATHS: Record<Side, string> = { staff: '/desk', contact: '/portal' };
const nameOf = (name: string) => cookieRules(settings().ORIGIN).nameOf(name);
const options = (side: Side) => cookieRules(settings().ORIGIN).options(side);
const NAMES: Record<Side, string> = { staff: 'lantern_desk', contact: 'lantern_portal' };
/** How long a browser keeps by which tokens its devices are known. */
const DEVICE_SECONDS = 400 * 24 * 3600;

export function readSessionCookie(cookies: Cookies, side: Side): string | undefined {
	return cookies.get(nameOf(NAMES[side]));
}

/** @param clockOffsetMs how far our clock is ahead of the browser's */
export function setSessionCookie(cookies: Cookies, side: Side, token: string, expiresAt: string, clockOffsetMs: number): void {
	cookies.set(nameOf(NAMES[side]), token, { ...options(side), expires: new Date(Date.parse(expiresAt) - clockOffsetMs) });
}

export function clearSessionCookie(cookies: Cookies, side: Side): void {
	cookies.delete(nameOf(NAMES[side]), options(side));
}

/** The tokens by which a browser's devices are known. */
export function readDeviceCookie(cookies: Cookies, side: Side): string | undefined {
	return cookies.get(nameOf(`${NAMES[side]}_device`));
}

export function setDeviceCookie(cookies: Cookies, side: Side, value: string): void {
	cookies.set(nameOf(`${NAMES[side]}_device`), value, { ...options(side), maxAge: DEVICE_SECONDS });
}

const LOOK = 'lantern_look';

/** The token of a look at the portal as a contact sees it. */
export function readPortalLookCookie(cookies: Cookies): string | undefined {
	return cookies.get(nameOf(LOOK));
}

export function setPortalLookCookie(cookies: Cookies, token: string, seconds: number): void {
	cookies.set(nameOf(LOOK), token, { ...options('contact'), maxAge: seconds });
}

export function clearPortalLookCookie(cookies: Cookies): void {
	cookies.delete(nameOf(LOOK), options('contact'));
}

const PRACTICE = 'lantern_practice';

/** The token of a session in the practice workspace, beside the real one. */
export function readPracticeCookie(cookies: Cookies): string | undefined {
	return cookies.get(nameOf(PRACTICE));
}

export function setPracticeCookie(cookies: Cookies, token: string, expiresAt: string, clockOffsetMs: number): void {
	cookies.set(nameOf(PRACTICE), token, { ...options('staff'), expires: new Date(Date.parse(expiresAt) - clockOffsetMs) });
}

export function clearPracticeCookie(cookies: Cookies): void {
	cookies.delete(nameOf(PRACTICE), options('staff'));
}

/** The token of a sign-in that waits for its second step. */
export function readSignInStepCookie(cookies: Cookies, side: Side): string | undefined {
	return cookies.get(nameOf(`${NAMES[side]}_step`));
}

export function setSignInStepCookie(cookies: Cookies, side: Side, token: string): void {
	cookies.set(nameOf(`${NAMES[side]}_step`), token, { ...options(side), maxAge: SIGN_IN_STEP_MINUTES * 60 });
}

export function clearSignInStepCookie(cookies: Cookies, side: Side): void {
	cookies.delete(nameOf(`${NAMES[side]}_step`), options(side));
}

/** The cookie of one letter: somebody may be in at several by links of their own. */
const letterCookie = (link: string) => `lantern_letter_${createHash('sha256').update(link).digest('hex').slice(0, 12)}`;

/** The token of a browser at the door of a letter, or let in to it. @param link the last part of its address */
export function readLetterCookie(cookies: Cookies, link: string): string | undefined {
	return cookies.get(nameOf(letterCookie(link)));
}

export function setLetterCookie(cookies: Cookies, link: string, token: string): void {
	cookies.set(nameOf(letterCookie(link)), token, { ...options('contact'), maxAge: LETTER_VISIT_HOURS * 3600 });
}

export function clearLetterCookie(cookies: Cookies, link: string): void {
	cookies.delete(nameOf(letterCookie(link)), options('contact'));
}

const VISIT = 'lantern_visit';
const visitSchema = z.object({ language: languageField.nullable().catch(null), brand: z.uuid().nullable().catch(null) });

/** What a browser remembers of its visits to a portal before anybody signs in: the language chosen, the brand seen last. */
export interface Visit {
	language: Language | null;
	brand: string | null;
}

export function readVisitCookie(cookies: Cookies): Visit {
	const [language = null, brand = null] = (cookies.get(nameOf(VISIT)) ?? '').split('.');
	return visitSchema.parse({ language, brand });
}

/** Remembers more of a visit; what is not named stays as it was. */
export function setVisitCookie(cookies: Cookies, more: Partial<Visit>): void {
	const before = readVisitCookie(cookies);
	const visit = { ...before, ...more };
	if (visit.language === before.language && visit.brand === before.brand) return;
	cookies.set(nameOf(VISIT), `${visit.language ?? ''}.${visit.brand ?? ''}`, { ...options('contact'), maxAge: DEVICE_SECONDS });
}
