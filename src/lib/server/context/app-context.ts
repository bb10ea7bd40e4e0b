import { readFileSync } from 'node:fs';
import { threadedCalendarWork, type CalendarWork } from '../firms/calendar-work';
import { threadedListWork, type ListWork } from '../clients/import/list-work';
import { threadedStatementWork, type StatementWork } from '../transactions/statement-work';
import { demoClock, systemClock, type Clock } from '../platform/clock';
import { openDatabase, type Database } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import { openPapers } from '../platform/files/stores';
import { dnsMailDomains, standinMailDomains, type MailDomains } from '../platform/mail/mail-domains';
import { smtpMailer, type DkimKey, type Mailer } from '../platform/mail/mailer';
import { threadedPdfWork, type PdfWork } from '../platform/pdf/pdf-work';
import { httpIdentityCheckService, type IdentityCheckService } from '../platform/identity-checks/identity-check-service';
import { webPushService, type PushService } from '../platform/push/push-service';
import { openRateLimits, type RateLimits } from '../platform/rate-limits';
import { httpTextMessageGateway, type TextMessageGateway } from '../platform/text-messages/text-message-gateway';
import { clamdScanner, type VirusScanner } from '../platform/scanning/clamd';
import { settings, type Settings } from '../platform/settings';

/** Everything a process works with, opened once. */
export interface AppContext {
	settings: Settings;
	db: Database;
	clock: Clock;
	/** asks at once how the demo's clock stands; does nothing outside the demo */
	refreshClock(): Promise<void>;
	mailer: Mailer;
	mailDomains: MailDomains;
	/** null where no gateway is configured: then nobody is offered text messages */
	texts: TextMessageGateway | null;
	/** null where none is configured: then nobody is offered identity checks */
	identity: IdentityCheckService | null;
	/** null where no key is configured: then nobody is told on a device */
	pushes: PushService | null;
	papers: PaperStore;
	/** null where none is set up: then papers are handed out as they come */
	scanner: VirusScanner | null;
	pdf: PdfWork;
	lists: ListWork;
	lines: StatementWork;
	calendars: CalendarWork;
	limits: RateLimits;
	close(): Promise<void>;
}

function dkimKey(given: Settings): DkimKey | undefined {
	const { DKIM_DOMAIN: domain, DKIM_SELECTOR: selector, DKIM_KEY_FILE: file } = given;
	return domain && selector && file ? { domain, selector, privateKey: readFileSync(file, 'utf8') } : undefined;
}

function textGateway(given: Settings): TextMessageGateway | null {
	const { TEXT_GATEWAY_URL: url, TEXT_GATEWAY_KEY: key, TEXT_FROM: from } = given;
	return url && key && from ? httpTextMessageGateway({ url, key, from, reportTo: `${given.ORIGIN}/texts/reports` }) : null;
}

function identityService(given: Settings): IdentityCheckService | null {
	const { IDENTITY_CHECK_URL: url, IDENTITY_CHECK_KEY: key } = given;
	return url && key ? httpIdentityCheckService({ url, key }) : null;
}

function pushService({ PUSH_KEY: privateKey, PUSH_SERVICES, ORIGIN, BOUNCE_DOMAIN }: Settings): PushService | null {
	if (!privateKey) return null;
	const contact = ORIGIN.startsWith('https:') ? ORIGIN : `mailto:postmaster@${BOUNCE_DOMAIN}`;
	return webPushService({ privateKey, contact, services: PUSH_SERVICES.split(' ') });
}

export async function openContext(given: Settings = settings()): Promise<AppContext> {
	const db = openDatabase(given);
	const clock = given.DEMO ? await demoClock(db.pool) : systemClock;
	const mailer = smtpMailer(given.SMTP_URL, { dkim: dkimKey(given), requireTls: given.SMTP_TLS === 'required' });
	const pdf = threadedPdfWork({ timeStamps: given.TSA_URL });
	const lists = threadedListWork();
	const lines = threadedStatementWork();
	const calendars = threadedCalendarWork();
	return {
		settings: given,
		db,
		clock,
		refreshClock: async () => {
			if ('refresh' in clock) await (clock as { refresh(): Promise<void> }).refresh();
		},
		mailer,
		mailDomains:
			given.MAIL_DOMAINS === 'dns' ? dnsMailDomains() : given.MAIL_DOMAINS === 'standin' ? standinMailDomains : { takesMail: async () => 'unknown' },
		texts: textGateway(given),
		identity: identityService(given),
		pushes: pushService(given),
		papers: openPapers(given),
		scanner: given.CLAMD ? clamdScanner(given.CLAMD) : null,
		pdf,
		lists,
		lines,
		calendars,
		limits: openRateLimits(db.pool),
		async close() {
			mailer.close();
			await pdf.close();
			await lists.close();
			await lines.close();
			await calendars.close();
			await db.close();
		}
	};
}
