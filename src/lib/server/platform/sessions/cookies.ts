import type { Cookies } from '@sveltejs/kit';
import { settings } from '../settings';

type Side = 'staff' | 'contact';
const NAMES: Record<Side, string> = { staff: 'lantern_desk', contact: 'lantern_portal' };
const PATHS: Record<Side, string> = { staff: '/desk', contact: '/portal' };

function secure(): boolean {
	return settings().ORIGIN.startsWith('https:');
}

export function readSessionCookie(cookies: Cookies, side: Side): string | undefined {
	return cookies.get(NAMES[side]);
}

/** @param clockOffsetMs how far our clock is ahead of the browser's */
export function setSessionCookie(cookies: Cookies, side: Side, token: string, expiresAt: string, clockOffsetMs: number): void {
	cookies.set(NAMES[side], token, {
		path: PATHS[side],
		httpOnly: true,
		secure: secure(),
		sameSite: 'lax',
		expires: new Date(Date.parse(expiresAt) - clockOffsetMs)
	});
}

export function clearSessionCookie(cookies: Cookies, side: Side): void {
	cookies.delete(NAMES[side], { path: PATHS[side], httpOnly: true, secure: secure(), sameSite: 'lax' });
}
