/// <reference types="@sveltejs/kit" />
/// <reference no-default-lib="true"/>
/// <reference lib="esnext" />
/// <reference lib="webworker" />
import type { Notice } from '$lib/core/telling/push';

/** Shows what a device is told, and opens the page where it is read. It keeps nothing and stands between nobody and the app. */
const worker = self as unknown as ServiceWorkerGlobalScope;

worker.addEventListener('push', (event) => {
	// the browser hands over only what was encrypted for it and signed by us
	const { title, body, path, tag, lang } = event.data!.json() as Notice;
	event.waitUntil(worker.registration.showNotification(title, { body, tag, lang, icon: '/lantern.svg', data: { path } }));
});

worker.addEventListener('notificationclick', (event) => {
	event.notification.close();
	const { path } = event.notification.data as { path: string };
	const place = path.split('/')[1];
	event.waitUntil(
		worker.clients.matchAll({ type: 'window', includeUncontrolled: true }).then((windows) => {
			// whoever has the desk or the page open goes on there: what is typed in it is not left for another page
			const open = windows.find(({ url }) => new URL(url).pathname.split('/')[1] === place);
			return open ? open.focus() : worker.clients.openWindow(path);
		})
	);
});
