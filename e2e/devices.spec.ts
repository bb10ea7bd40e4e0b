import type { Page } from '@playwright/test';
import type { Notice } from '$lib/core/telling/push';
import { receivedPushes, subscribe } from '$lib/server/platform/push/standin';
import { awake, expect, expectAccessible, phone, signInAtDesk, signInAtPortal, test, type Product } from './product';

test.use({ file: 'devices' });

const PORTAL = '/portal/pennywhistle-row';

/**
 * A browser that has a push service and may show notices: the stand-in, since it reaches none of its own here and never may.
 * @param says what its owner says when asked
 */
async function withPushService(page: Page, product: Pick<Product, 'pushes'>, says: NotificationPermission = 'granted'): Promise<void> {
	await page.exposeFunction('subscribeAtStandin', (key: string) => subscribe(product.pushes.folder, product.pushes.port, key));
	await page.addInitScript((answer: NotificationPermission) => {
		const at = window as unknown as { subscribeAtStandin(key: string): Promise<{ endpoint: string; p256dh: string; auth: string }> };
		let permission: NotificationPermission = 'default';
		Object.defineProperty(Notification, 'permission', { get: () => permission });
		Notification.requestPermission = async () => (permission = answer);
		PushManager.prototype.subscribe = async (options) => {
			const { endpoint, ...keys } = await at.subscribeAtStandin(options!.applicationServerKey as string);
			return { toJSON: () => ({ endpoint, keys }) } as unknown as PushSubscription;
		};
	}, says);
}
const came = async (product: Product): Promise<Notice[]> => [...(await receivedPushes(product.pushes.folder)).values()].flat();

/** Hands what came to the browser's service worker, as a push service does. @returns what it shows, and where it leads if it is pressed */
async function deliver(page: Page, notice: Notice) {
	const devtools = await page.context().newCDPSession(page);
	const registered = new Promise<string>((resolve) =>
		devtools.on('ServiceWorker.workerRegistrationUpdated', ({ registrations }) => registrations[0] && resolve(registrations[0].registrationId))
	);
	await devtools.send('ServiceWorker.enable');
	const registrationId = await registered;
	const [worker] = page.context().serviceWorkers();
	await worker.evaluate(() => {
		const own = self as unknown as {
			registration: ServiceWorkerRegistration;
			clients: { openWindow(url: string): Promise<null> };
			shown: [string, NotificationOptions][];
			opened: string[];
		};
		own.shown = [];
		own.opened = [];
		own.registration.showNotification = async (title, options) => void own.shown.push([title, options!]);
		own.clients.openWindow = async (url) => (own.opened.push(url), null);
	});
	await devtools.send('ServiceWorker.deliverPushMessage', { origin: new URL(page.url()).origin, registrationId, data: JSON.stringify(notice) });
	const shown = () => worker.evaluate(() => (self as unknown as { shown: [string, NotificationOptions][] }).shown);
	await expect.poll(async () => (await shown()).length).toBe(1);
	const [[title, { body, data }]] = await shown();
	const press = () =>
		worker.evaluate(async (pressed) => {
			const event = new Event('notificationclick');
			let done: Promise<unknown> | undefined;
			Object.assign(event, { notification: { close: () => undefined, data: pressed }, waitUntil: (work: Promise<unknown>) => (done = work) });
			self.dispatchEvent(event);
			await done!.catch(() => undefined);
			return (self as unknown as { opened: string[] }).opened;
		}, data);
	return { title, body, press };
}

test('a client is told on their phone that the firm has written, and nothing more; until they stop it', async ({ page, browser, product }) => {
	test.setTimeout(240_000);
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'mara@gullstring.example');
	await withPushService(mobile, product);
	await mobile.goto(`${PORTAL}/told`);
	await mobile.waitForLoadState('networkidle');
	const start = mobile.getByRole('button', { name: 'Tell me on this device' });
	await start.focus();
	await mobile.keyboard.press('Enter');
	await expect(mobile.getByText('You are told on this device.')).toBeVisible();
	await expect(start).toHaveCount(0);
	await expectAccessible(mobile, 'a device on which a client is told');
	await mobile.reload();
	await mobile.waitForLoadState('networkidle');
	await expect(mobile.getByText('You are told on this device.')).toBeVisible();

	// the firm writes: the phone is told so, and shows it
	await signInAtDesk(page);
	const { rows } = await product.sql.query<{ id: string; client_id: string }>(
		`select i.id, i.client_id from item i join client c on c.id = i.client_id where c.name = 'Gull & String Kites' and i.title = 'Last year’s final accounts'`
	);
	await page.goto(`/desk/clients/${rows[0].client_id}/item/${rows[0].id}`);
	await awake(page);
	await page.getByLabel(/by e-mail and on their page/).focus();
	await page.keyboard.type('The lease came twice, so one of them is put away.', { delay: 10 });
	await page.keyboard.press('ControlOrMeta+Enter');
	await expect.poll(() => came(product), { timeout: 60_000 }).toHaveLength(1);
	const [notice] = await came(product);
	expect(notice).toMatchObject({ title: 'Pennywhistle Row Bookkeeping', body: 'Pennywhistle Row Bookkeeping has written to you.', path: PORTAL });
	const shown = await deliver(mobile, notice);
	expect(shown).toMatchObject({ title: notice.title, body: notice.body });
	// whoever has their page open goes on there; else it opens
	expect(await shown.press()).toEqual([]);
	await mobile.goto('about:blank');
	// the browser has the page that was left for a moment longer
	await expect.poll(() => shown.press()).toEqual([PORTAL]);
	await mobile.goto(`${PORTAL}/told`);
	await mobile.waitForLoadState('networkidle');

	// stopped here it is over, pressed twice or not
	await mobile.getByRole('button', { name: /^Stop: / }).click();
	await expect(start).toBeVisible();
	await expect(mobile.getByText('You are told on this device.')).toHaveCount(0);
});

test('somebody of the firm is told at their desk; whoever does not allow it, or whose browser cannot, reads what to do', async ({
	page,
	browser,
	product
}) => {
	test.setTimeout(180_000);
	await signInAtDesk(page);
	await withPushService(page, product, 'default');
	await page.goto('/desk/told');
	await awake(page);
	const start = page.getByRole('button', { name: 'Tell me on this device' });
	await start.click();
	await expect(page.getByRole('alert')).toHaveText('You have not allowed notices, so nothing was changed.');
	await expect(start).toBeEnabled();
	expect((await product.sql.query('select 1 from told_device where staff_id is not null')).rowCount).toBe(0);

	// a push service that is not known is not spoken to
	const other = await (await browser.newContext({ baseURL: product.origin })).newPage();
	await signInAtDesk(other);
	await withPushService(other, { pushes: { ...product.pushes, port: 9 } });
	await other.goto('/desk/told');
	await awake(other);
	await other.getByRole('button', { name: 'Tell me on this device' }).click();
	await expect(other.getByRole('alert')).toContainText('is not known here');

	// one that cannot says so
	await other.addInitScript(() => Reflect.deleteProperty(window, 'PushManager'));
	await other.reload();
	await expect(other.getByText('This browser cannot show such notices.')).toBeVisible();
	await expectAccessible(other, 'a browser that cannot show notices');
});
