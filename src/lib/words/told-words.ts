import type { Told } from '$lib/core/telling/told';
import { dateWords, dayOf, timeWords } from './dates';
import type { Say } from './words';

export interface ToldWords {
	subject: string;
	intro: string;
	/** each line with where it leads at the desk */
	lists: { heading: string; lines: { text: string; path?: string }[] }[];
}

/**
 * What is told in words, the same in the mail and where one looks at it beforehand.
 * @param how.which a summary, or what is told at once
 * @param how.timeZone of the firm
 */
export function toldWords(told: Told, how: { say: Say; locale: string; timeZone: string; which: 'summary' | 'told' }): ToldWords {
	const { say, locale, timeZone, which } = how;
	const day = (at: string) => dateWords(locale, dayOf(at, timeZone));
	const things = told.clients.reduce((sum, { lines, more }) => sum + lines.length + more, 0);
	const waiting = told.waits.reduce((sum, { count }) => sum + count, 0);
	const [only] = told.clients;
	const subject =
		which === 'summary'
			? say('mail.summary.subject', { date: day(told.through), things, waiting })
			: told.clients.length === 1 && things === 1
				? say('mail.told.subject.one', { client: only.name ?? say('mail.told.nobodys'), line: only.lines[0] ?? '' })
				: say('mail.told.subject', { things, clients: told.clients.length + told.moreClients, client: only?.name ?? say('mail.told.nobodys') });
	const intro =
		which === 'told'
			? say('mail.told.intro')
			: say(things > 0 ? 'mail.summary.intro' : 'mail.summary.quiet', { since: timeWords(locale, told.since, timeZone) });
	return {
		subject,
		intro,
		lists: [
			...told.clients.map(({ clientId, name, lines, more }) => ({
				heading: name ?? say('mail.told.nobodys'),
				lines: [...lines, ...(more > 0 ? [say('mail.told.more', { more })] : [])].map((text) => ({
					text,
					...(clientId ? { path: `/desk/clients/${clientId}` } : {})
				}))
			})),
			...(told.moreClients > 0
				? [{ heading: say('mail.told.others'), lines: [{ text: say('mail.told.moreClients', { count: told.moreClients }) }] }]
				: []),
			...(told.waits.length > 0
				? [
						{
							heading: say('mail.summary.waits'),
							lines: told.waits.map(({ title, count, since }) => ({
								text: say('mail.summary.waiting', { title, count, date: day(since) }),
								path: '/desk/rounds'
							}))
						}
					]
				: []),
			...(told.away.length > 0
				? [
						{
							heading: say('mail.summary.away'),
							lines: told.away.map(({ clientId, clientName, who, until }) => ({
								text: say('mail.summary.awayUntil', { who, client: clientName, date: dateWords(locale, until) }),
								path: `/desk/clients/${clientId}`
							}))
						}
					]
				: [])
		]
	};
}
