import type { IsoInstant } from '$lib/core/calendar/firm-calendar';
import type { Database } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { PdfWork } from '../platform/pdf/pdf-work';
import { forgetOldUploads } from '../papers/unfinished-uploads';
import { destroyDue } from '../papers/retention';
import { forgetRemovedDrafts } from '../drafts/drafts';
import { forgetAskSheets } from '../requests/ask-sheets';
import { removeExpiredSecrets } from '../items/secrets';
import { removePutAway } from '../public-pages/came-in';
import { announceRequests } from '../announcements/announce-requests';
import { appearDue } from '../schedules/appear';
import { goOnAfterLetters } from '../requests/after-letters';
import { lapseLetters, tellOfLapses } from '../requests/lapse-letters';
import { expireChecks } from '../signing/identity-checks';
import { endPausesThatHappened } from '../chasing/holds';
import { chaseInvitations } from '../chasing/chase-invitations';
import { tellStaff } from '../telling/tell-staff';
import { chasePeople } from '../chasing/chase-people';

/**
 * Everything that falls due for a firm at an instant and that nobody has to press for: what is over goes, what is new appears, people are
 * told and reminded, and so are the firm's own people. What appears comes first, so that it is told of
 * today. Whoever is reminded is told of what is new along with it, so reminders go before announcements: the other way round the
 * announcement is the one message of that day, and the reminder the Almanac promised does not go.
 * Safe to run at any time, by several workers at once.
 * @returns how many requests appeared that had waited for their day or for a letter, and how many messages were planned
 */
export async function doWhatIsDue(
	place: { db: Database; pdf: PdfWork; papers: PaperStore },
	firmId: string,
	now: IsoInstant
): Promise<{ appeared: number; planned: number }> {
	const { db } = place;
	await db.inFirm(firmId, async (tx) => {
		await removeExpiredSecrets(tx, now);
		await forgetRemovedDrafts(tx, now);
		await forgetAskSheets(tx, now);
		await forgetOldUploads(tx);
	});
	await removePutAway(place, firmId, now);
	await expireChecks(db, firmId, now);
	await destroyDue(place, firmId, now);
	const appeared = (await goOnAfterLetters(place, firmId, now)) + (await appearDue(db, firmId, now));
	// nobody is reminded of what cannot be signed any more
	await lapseLetters(db, firmId, now);
	await db.inFirm(firmId, (tx) => endPausesThatHappened(tx, firmId, now));
	const reminded = await chasePeople(db, firmId, now);
	const told = await announceRequests(db, firmId, now);
	// on a day on which nothing else has gone: what the Almanac promised goes
	const lapsing = await tellOfLapses(db, firmId, now);
	const invited = await chaseInvitations(db, firmId, now);
	const staffTold = await tellStaff(db, firmId, now);
	return { appeared, planned: lapsing + reminded + told + invited + staffTold };
}
