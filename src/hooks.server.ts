import { randomUUID } from 'node:crypto';
import { error, isHttpError, isRedirect, json, redirect, type Handle, type HandleServerError, type RequestEvent } from '@sveltejs/kit';
import { FIELDS_MAX as ANSWERS_FIELDS_MAX } from '$lib/core/requests/typed';
import { languageOfBrowser } from '$lib/core/people/languages';
import { say, type WordKey } from '$lib/words/words';
import { building } from '$app/environment';
import type { RouteId } from '$app/types';
import { webContext } from '$lib/web/web-context';
import { findShortName } from '$lib/server/firms/firm';
import { resumePortalLook } from '$lib/server/people/look-as';
import { resumeSession, type SignedIn } from '$lib/server/people/sessions';
import { isLetIn } from '$lib/server/signing/letter-links';
import { withRefusals } from '$lib/web/refusals';
import { isFormWithFiles, takesFile } from '$lib/web/file-routes';
import { fieldsIn } from '$lib/web/form-fields';
import { errorForLog, log, placeForLog } from '$lib/server/platform/log';
import {
	clearPortalLookCookie,
	clearPracticeCookie,
	clearSessionCookie,
	readLetterCookie,
	readPortalLookCookie,
	readPracticeCookie,
	readSessionCookie,
	readVisitCookie,
	setPracticeCookie,
	setSessionCookie
} from '$lib/web/cookies';

/** Largest body of a form. Only uploads are longer. */
const FORM_MAX_BYTES = 2 * 1024 * 1024;
/** The same from somebody who is not signed in: an address, a password, a name. */
const NOBODYS_FORM_MAX_BYTES = 16 * 1024;
/** Most fields of a form: as many rows as can be chosen at once. */
const FIELDS_MAX = 20_000;
const NOBODYS_FIELDS_MAX = 50;
/** The same on a public page, where anybody answers a questionnaire. */
const PUBLIC_FORM_MAX_BYTES = 256 * 1024;
/** The same for a form with files, which is used where no scripts run: it is read as a whole. */
const FILES_FORM_MAX_BYTES = 25 * 1024 * 1024;
/** What somebody may still do who has to set up a second step first. */
const SET_UP: RouteId[] = [
	'/desk/(place)/you',
	'/desk/live',
	'/desk/sign-out',
	'/portal/[firm]/(page)/you',
	'/portal/[firm]/(page)/sign-out',
	'/portal/[firm]/logo/[version]',
	'/portal/[firm]/help'
];
/** What belongs to people's real sign-in, and is not done from within a practice workspace. */
const OUTSIDE_PRACTICE: RouteId[] = ['/desk/(place)/you', '/desk/(place)/told', '/desk/(place)/firm/told', '/desk/(place)/firm/people'];
/** Answers that say that somebody may not, or not so often: the log has who and from where. */
const REFUSED = [401, 403, 429];
const OPEN_DESK: RouteId[] = [
	'/desk/sign-in',
	'/desk/sign-in/second',
	'/desk/sign-in/code',
	'/desk/sign-in/passkey',
	'/desk/forgotten',
	'/desk/reset/[token]',
	'/desk/set-up'
];

/** The language of whoever asks, as far as it is known without looking anything up: the desk is in English. */
function languageOf(event: RequestEvent): string {
	if (!event.url.pathname.startsWith('/portal')) return 'en';
	return (
		event.locals.signedIn?.locale ??
		readVisitCookie(event.cookies).language ??
		languageOfBrowser(event.request.headers.get('accept-language')) ??
		'en'
	);
}

/** Refuses in a form that a page can show beside what was typed, in the reader's language. */
function refuse(event: RequestEvent, what: WordKey, status = 403): Response {
	const message = say(languageOf(event), what);
	if (event.request.headers.get('x-sveltekit-action') !== 'true') error(status, message);
	return json({ type: 'error', error: { message } }, { status });
}

/** Where a request comes from. @throws 400 if a proxy should have said so and has not */
function addressOf(event: RequestEvent): string {
	try {
		return event.getClientAddress();
	} catch {
		error(400, 'This did not come by way of the proxy before the app, which says where requests come from.');
	}
}

const LETTER_BY_LINK: RouteId = '/portal/[firm]/sign/[link]';

/** Whether somebody was let in to the letter whose link this is: they send as much as whoever is signed in, a signature that is drawn. */
async function isAtTheirLetter(event: RequestEvent): Promise<boolean> {
	const { firm, link } = event.params;
	const token = readLetterCookie(event.cookies, link!);
	if (!token) return false;
	const { db } = await webContext();
	const known = await findShortName(db, firm!);
	return known !== null && (await isLetIn(db, known.firmId, event.locals.actor, link!, token));
}

/** The session in the practice workspace of somebody who is signed in really, if they are in there. */
async function resumePractice(event: RequestEvent, real: SignedIn | null): Promise<SignedIn | null> {
	const token = readPracticeCookie(event.cookies);
	if (!token) return null;
	const { db, clock } = await webContext();
	const practice = real && (await resumeSession(db, token, 'staff', clock.now()));
	if (!practice || practice.practiceOf !== real.personId) {
		clearPracticeCookie(event.cookies);
		return null;
	}
	if (practice.newToken) setPracticeCookie(event.cookies, practice.newToken, practice.expiresAt, clock.offsetMs());
	return practice;
}

/** Every request gets an id and one line in the log, also those that are refused. */
export const handle: Handle = (input) =>
	withRefusals(async (refused) => {
		const { event } = input;
		const started = performance.now();
		event.locals.requestId = randomUUID();
		let status = 500;
		try {
			const response = await answer(input);
			status = response.status;
			return response;
		} catch (refusal) {
			if (isHttpError(refusal) || isRedirect(refusal)) status = refusal.status;
			throw refusal;
		} finally {
			const why = refused();
			const { actor } = event.locals;
			log.info(
				{
					requestId: event.locals.requestId,
					method: event.request.method,
					route: event.route.id,
					status,
					...(actor && (why || REFUSED.includes(status)) ? { refused: why, who: actor.id, from: placeForLog(actor.ip) } : {}),
					ms: Math.round((performance.now() - started) * 10) / 10
				},
				'request'
			);
		}
	});

const answer: Handle = async ({ event, resolve }) => {
	const path = event.url.pathname;
	if (building || path.startsWith('/health')) return resolve(event);

	const { clock, db } = await webContext();
	const route = (event.route.id ?? '/') as RouteId;
	const side = path.startsWith('/desk') ? 'staff' : path.startsWith('/portal') ? 'contact' : null;
	const ip = addressOf(event);
	const userAgent = event.request.headers.get('user-agent') ?? '';
	event.locals.signedIn = null;
	event.locals.language = languageOf(event);
	event.locals.sessions = [];
	event.locals.actor = { kind: 'nobody', id: null, name: 'somebody', role: null, now: clock.now(), ip, userAgent };

	const isUpload = takesFile(route);
	if (
		event.request.method === 'POST' &&
		!isUpload &&
		Number(event.request.headers.get('content-length') ?? (event.request.body ? Infinity : 0)) >
			(isFormWithFiles(event) ? FILES_FORM_MAX_BYTES : FORM_MAX_BYTES)
	)
		error(413, say(languageOf(event), 'wrong.form.large'));

	if (
		!['GET', 'HEAD', 'OPTIONS'].includes(event.request.method) &&
		!path.startsWith('/mail/stop/') &&
		!path.startsWith('/texts/') &&
		event.request.headers.get('origin') !== event.url.origin
	)
		error(403, say(languageOf(event), 'wrong.form.elsewhere'));

	if (side) {
		const token = readSessionCookie(event.cookies, side);
		const lookToken = side === 'contact' ? readPortalLookCookie(event.cookies) : undefined;
		const look = lookToken ? await resumePortalLook(db, lookToken, clock.now()) : null;
		if (lookToken && !look) clearPortalLookCookie(event.cookies);
		if (look && look.firmSlug === event.params.firm && !['GET', 'HEAD'].includes(event.request.method)) return refuse(event, 'wrong.look');
		const real = look ?? (token ? await resumeSession(db, token, side, clock.now()) : null);
		const practice = side === 'staff' ? await resumePractice(event, real) : null;
		if (practice && OUTSIDE_PRACTICE.includes(route)) {
			if (event.request.method === 'GET') redirect(303, '/desk/practice');
			return refuse(event, 'wrong.practice');
		}
		const signedIn = practice ?? real;
		if (token && !real) clearSessionCookie(event.cookies, side);
		const atHome = side === 'staff' || signedIn?.firmSlug === event.params.firm;
		if (signedIn && atHome) {
			event.locals.signedIn = signedIn;
			event.locals.sessions = [real, practice].flatMap((session) => session?.sessionId ?? []);
			event.locals.actor = { ...event.locals.actor, kind: side, id: signedIn.personId, name: signedIn.name, role: signedIn.role };
			if (real?.newToken) setSessionCookie(event.cookies, side, real.newToken, real.expiresAt, clock.offsetMs());
		}
		// an address with a former short name of the firm leads on to the one in use
		if (side === 'contact' && event.params.firm && !atHome) {
			const known = await findShortName(db, event.params.firm);
			if (known && known.slug !== event.params.firm)
				redirect(308, `/portal/${known.slug}${path.slice(`/portal/${event.params.firm}`.length)}${event.url.search}`);
		}
		const needsSignIn = side === 'staff' ? !OPEN_DESK.includes(route) : route.startsWith('/portal/[firm]/(page)');
		if (needsSignIn && !event.locals.signedIn) {
			const wantsPage = event.request.method === 'GET' && (event.request.headers.get('accept') ?? '').includes('text/html');
			const signIn = side === 'staff' ? '/desk/sign-in' : `/portal/${event.params.firm}/sign-in`;
			if (wantsPage || event.isDataRequest) redirect(303, `${signIn}?to=${encodeURIComponent(path)}`);
			return refuse(event, 'wrong.signedOut', 401);
		}
	}

	if (event.request.method === 'POST' && !isUpload) {
		const onPublicPage = route === '/portal/[firm]/answer/[page]';
		const nobody = !event.locals.signedIn && !(route === LETTER_BY_LINK && (await isAtTheirLetter(event)));
		const mostBytes = onPublicPage ? PUBLIC_FORM_MAX_BYTES : nobody ? NOBODYS_FORM_MAX_BYTES : Infinity;
		if (Number(event.request.headers.get('content-length')) > mostBytes) error(413, say(languageOf(event), 'wrong.form.large'));
		const body = Buffer.from(await event.request.arrayBuffer());
		const most = onPublicPage ? ANSWERS_FIELDS_MAX : nobody ? NOBODYS_FIELDS_MAX : FIELDS_MAX;
		if (fieldsIn(body, event.request.headers.get('content-type') ?? '', most + 1) > most) error(413, say(languageOf(event), 'wrong.form.large'));
		const { url, method, headers, signal } = event.request;
		event.request = new Request(url, { method, headers, signal, body: body.length > 0 ? body : null });
	}

	// whoever must have a second step sets it up before anything else
	if (event.locals.signedIn?.mustSetUp && side && !SET_UP.includes(route)) {
		const you = side === 'staff' ? '/desk/you' : `/portal/${event.params.firm}/you`;
		if (event.request.method === 'GET') redirect(303, you);
		return refuse(event, 'wrong.secondStep.first');
	}

	// the pages of a portal say themselves which language they are in
	event.locals.language = languageOf(event);
	const response = await resolve(event, { transformPageChunk: ({ html }) => html.replace('%lang%', event.locals.language) });
	const { comesFirst } = event.locals;
	if (comesFirst)
		response.headers.set(
			'link',
			[`<${comesFirst}>; rel=preload; as=image; fetchpriority=high`, response.headers.get('link') ?? []].flat().join(', ')
		);
	const { frameSites } = event.locals;
	const policy = response.headers.get('content-security-policy');
	if (frameSites && frameSites.length > 0 && policy)
		response.headers.set('content-security-policy', policy.replace("frame-ancestors 'none'", `frame-ancestors 'self' ${frameSites.join(' ')}`));
	response.headers.set('x-request-id', event.locals.requestId);
	if (!response.headers.has('cache-control') || side) response.headers.set('cache-control', 'private, no-store');
	return response;
};

export const handleError: HandleServerError = ({ error: cause, event, status, message }) => {
	if (status !== 404) log.error({ requestId: event.locals.requestId, route: event.route.id, ...errorForLog(cause) }, 'request failed');
	return {
		message: status === 404 ? message : say(languageOf(event), 'wrong.broken'),
		requestId: event.locals.requestId
	};
};

/** Settings and database are looked at before the first request, so that a wrong setting stops the start. */
export const init = async () => {
	if (!building) await webContext();
};
