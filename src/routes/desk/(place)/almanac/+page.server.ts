import { deskRequest } from '$lib/web/desk-request';
import { wroteTo } from '$lib/core/chasing/forecast';
import { doingsOf } from '$lib/core/chasing/look-ahead';
import { forecastInvitationChases } from '$lib/server/chasing/chase-invitations';
import { readChangedChases } from '$lib/server/chasing/change-chase';
import { peopleHeld, peopleToForecast, readForecast, type ForecastChase } from '$lib/server/chasing/read-forecast';
import { readAnnouncements } from '$lib/server/announcements/announce-requests';
import { readAppearing } from '$lib/server/schedules/read-occurrences';
import { chaseSentence, heldAs } from '$lib/server/rounds/chase-sentence';
import { CALL_HOLDS_DAYS, HOLD_MOST_DAYS, type Hold } from '$lib/core/chasing/hold';
import { addBusinessDays, addDays, localDate, type FirmCalendar } from '$lib/core/calendar/firm-calendar';
import { readLapseNotices } from '$lib/server/requests/lapse-letters';
import { dateWords, timeWords } from '$lib/words/dates';

/** How far the Almanac looks ahead, in days. */
const DAYS = 28;
const SHOWN = 400;
/** A message that cannot be opened, for it is written when it goes. */
const PLAIN = { open: false, leftOut: false, changed: false, asks: '' };
/** What a step asks of the firm itself on a day. */
const asksOf = (chase: ForecastChase) =>
	doingsOf(chase)
		.map((does) => (does === 'call' ? ', a call' : does === 'partner' ? ', to a partner' : ''))
		.join('');

/** The clients of what a chase names, each once. */
const clientsOf = ({ items }: ForecastChase) => [...new Map(items.map((i) => [i.clientId, i.clientName]))].map(([id, name]) => ({ id, name }));

/** What somebody is told of for the first time, in words. @param beside a count of things that these are part of stands before it */
const newsWords = ({ things, papers }: { things: number; papers: number }, beside = false) =>
	[
		...(things > 0 ? [beside ? `${things} new` : things === 1 ? '1 new thing' : `${things} new things`] : []),
		...(papers > 0 ? [papers === 1 ? '1 paper to see' : `${papers} papers to see`] : [])
	].join(', ');

/** Whether a hold is there today, and does not come only with a call that is still to be asked for. */
const isHeldToday = ({ why, until }: Hold, today: string, { calendar }: { calendar: FirmCalendar }) =>
	why !== 'called' || until <= addBusinessDays(today, CALL_HOLDS_DAYS, calendar);

/** The first of each person's. */
const firstOfEach = (chases: readonly ForecastChase[]) =>
	chases.filter((one, at) => chases.findIndex(({ contactId }) => contactId === one.contactId) === at);

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.read(async (tx, firm) => {
		const today = localDate(desk.actor.now, firm.calendar);
		const people = await peopleToForecast(tx, firm, desk.actor.now, DAYS);
		const chases = await readForecast(tx, desk.actor, firm, people, DAYS);
		const changed = await readChangedChases(tx, desk.actor);
		const invitations = await forecastInvitationChases(tx, desk.actor, firm, addDays(localDate(desk.actor.now, firm.calendar), DAYS));
		const reminded = new Set(chases.filter((chase) => chase.by.length > 0 || chase.heldBack).map((chase) => `${chase.contactId} ${chase.localDay}`));
		// who is reminded on that day is told of what is new along with it
		const news = await readAnnouncements(tx, desk.actor, firm);
		const announcements = news.filter((one) => !reminded.has(`${one.contactId} ${one.localDay}`));
		// what appears on that day too, and several things that do, are told in one message
		const told = new Set(chases.filter((chase) => !chase.heldBack && wroteTo(chase)).map((chase) => `${chase.contactId} ${chase.localDay}`));
		const appears = (await readAppearing(tx, desk.actor, firm, DAYS)).map((one) => {
			const key = `${one.contactId} ${one.day}`;
			const together = !one.heldBack && !one.quiet && told.has(key);
			if (!one.heldBack && !one.quiet) told.add(key);
			return { ...one, together };
		});
		for (const one of announcements) told.add(`${one.contactId} ${one.localDay}`);
		const lapsing = await readLapseNotices(tx, desk.actor, firm, DAYS, told);
		const along = new Map(news.map((one) => [`${one.contactId} ${one.localDay}`, newsWords(one, true)]));
		return {
			today,
			total:
				[...chases.filter(({ leftOut }) => !leftOut), ...invitations, ...announcements].reduce((sum, c) => sum + c.by.length, 0) + lapsing.length,
			appears,
			held: firstOfEach(
				(await readForecast(tx, desk.actor, firm, await peopleHeld(tx, today), HOLD_MOST_DAYS)).filter(
					({ held }) => held && isHeldToday(held, today, firm)
				)
			).map((c) => ({
				key: `${c.contactId} ${c.localDay}`,
				name: c.contactName,
				clients: clientsOf(c),
				things: c.items.length,
				since: dateWords(firm.locale, c.held!.from),
				as: heldAs(c.held!),
				goes: dateWords(firm.locale, c.localDay)
			})),
			chases: [
				...announcements.slice(0, SHOWN).map((a) => ({
					at: a.at,
					contactId: a.contactId,
					key: `announcement ${a.contactId}`,
					day: a.localDay,
					time: timeWords(firm.locale, a.at, firm.calendar.timeZone, 'time'),
					name: a.contactName,
					clients: a.clients,
					things: newsWords(a),
					when: '',
					why: a.why,
					heldBack: false,
					...PLAIN,
					by: a.by
				})),
				...chases.slice(0, SHOWN).map((c) => ({
					at: c.at,
					contactId: c.contactId,
					key: `${c.contactId} ${c.localDay}`,
					day: c.localDay,
					time: timeWords(firm.locale, c.at, firm.calendar.timeZone, 'time'),
					name: c.contactName,
					clients: clientsOf(c),
					things: `${c.items.length === 1 ? '1 thing' : `${c.items.length} things`}${along.has(`${c.contactId} ${c.localDay}`) ? `, ${along.get(`${c.contactId} ${c.localDay}`)}` : ''}`,
					...chaseSentence(c, firm),
					open: true,
					leftOut: c.leftOut,
					changed: changed.has(`${c.contactId} ${c.localDay}`),
					asks: asksOf(c),
					by: c.by
				})),
				...lapsing.slice(0, SHOWN).map((c) => ({
					at: c.at,
					contactId: null,
					key: `lapses ${c.contactId} ${c.localDay}`,
					day: c.localDay,
					time: timeWords(firm.locale, c.at, firm.calendar.timeZone, 'time'),
					name: c.contactName,
					clients: [{ id: c.clientId, name: c.clientName }],
					things: 'a letter',
					when: '',
					why: `because “${c.title}” can be signed until ${dateWords(firm.locale, c.lapsesOn)}`,
					heldBack: false,
					...PLAIN,
					by: ['email' as const]
				})),
				...invitations.slice(0, SHOWN).map((c) => ({
					at: c.at,
					contactId: null,
					key: `invitation ${c.contactId} ${c.localDay}`,
					day: c.localDay,
					time: timeWords(firm.locale, c.at, firm.calendar.timeZone, 'time'),
					name: c.contactName,
					clients: [{ id: c.clientId, name: c.clientName }],
					things: 'invitation',
					when: '',
					why: `because it is ${c.businessDays} business days after the invitation was sent`,
					heldBack: false,
					...PLAIN,
					by: c.by
				}))
			].sort((a, b) => a.at.localeCompare(b.at) || a.name.localeCompare(b.name))
		};
	});
};
