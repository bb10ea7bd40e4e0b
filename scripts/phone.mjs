// npm run phone: how the portal feels on a slow phone. Every page of several contacts on a slow 4G line (1.6 Mbit/s, 150 ms) and a
// processor four times slower: how much moves while a page comes (cumulative layout shift), how long from the tap on a thing until its
// field can be typed into, how long until the first page of a file to approve is drawn. Beside them the same on this machine's own line.
import { startDemoCopy } from './demo-copy.mjs';
import { needBuild, needModules, needPackages, TEST_PACKAGES } from './setup.mjs';

needPackages(TEST_PACKAGES);
needModules();
needBuild();
const copy = await startDemoCopy('phone', 27433);
const { sql, browser, origin } = copy;
const PORTAL = '/portal/pennywhistle-row';
const SLOW = { offline: false, latency: 150, downloadThroughput: (1.6 * 1024 * 1024) / 8, uploadThroughput: (0.75 * 1024 * 1024) / 8 };
/** Most times a page is loaded. */
const RUNS = 5;
const median = (numbers) => numbers.toSorted((a, b) => a - b)[Math.floor(numbers.length / 2)];

/** A phone, slow or as fast as this machine; it sums up what moves on its pages. */
async function phone(slow) {
	const context = await browser.newContext({ viewport: { width: 390, height: 844 }, baseURL: origin, isMobile: true, hasTouch: true });
	await context.addInitScript(() => {
		window.moved = 0;
		window.movers = [];
		new PerformanceObserver((list) => {
			for (const entry of list.getEntries()) {
				if (entry.hadRecentInput) continue;
				window.moved += entry.value;
				window.movers.push(`${entry.value.toFixed(3)} ${entry.sources.map(({ node }) => node?.textContent?.trim().slice(0, 30)).join(' | ')}`);
			}
		}).observe({ type: 'layout-shift', buffered: true });
	});
	const page = await context.newPage();
	const devtools = await context.newCDPSession(page);
	await devtools.send('Network.enable');
	if (slow) {
		await devtools.send('Network.emulateNetworkConditions', SLOW);
		await devtools.send('Emulation.setCPUThrottlingRate', { rate: 4 });
	}
	return {
		page,
		devtools,
		async signIn(email) {
			await page.goto(`${PORTAL}/sign-in`);
			await page.getByLabel('E-mail address').fill(email);
			await page.getByLabel('Password').fill('kites above the harbour');
			await page
				.locator('form')
				.filter({ has: page.getByLabel('Password') })
				.getByRole('button')
				.last()
				.click();
			await page.waitForURL(`**${PORTAL}`);
		}
	};
}
const settled = async (page) => {
	await page.waitForLoadState('networkidle');
	await page.waitForTimeout(600);
	return page.evaluate(() => ({ moved: window.moved, movers: window.movers }));
};

const { rows: people } = await sql.query(
	`update contact c set locale = 'en' where c.password_hash is not null and exists (select from item i where i.contact_id = c.id)
	returning c.email, (select array_agg(distinct i.kind) from item i where i.contact_id = c.id) kinds`
);
// few people who between them are asked everything that is asked
const chosen = [];
const seen = new Set();
for (const one of people.toSorted((a, b) => b.kinds.length - a.kinds.length))
	if (one.kinds.some((kind) => !seen.has(kind))) {
		chosen.push(one);
		one.kinds.forEach((kind) => seen.add(kind));
	}

const worst = new Map();
const note = (shape, { moved, movers }) => {
	if (moved >= (worst.get(shape)?.moved ?? -1)) worst.set(shape, { moved, movers });
};
for (let run = 0; run < 3; run++) {
	const nobody = await phone(true);
	await nobody.devtools.send('Network.setCacheDisabled', { cacheDisabled: true });
	await nobody.page.goto(`${PORTAL}/sign-in`);
	note('sign-in', await settled(nobody.page));
	await nobody.page.context().close();
}
for (const one of chosen) {
	const { page, devtools, signIn } = await phone(true);
	await signIn(one.email);
	await devtools.send('Network.setCacheDisabled', { cacheDisabled: true });
	const queue = [PORTAL];
	const shapes = new Set();
	while (queue.length > 0) {
		const path = queue.shift();
		const shape = path.replace(/[0-9a-f]{8}-[0-9a-f-]{27}/g, ':id');
		if (shapes.has(path) || (shapes.has(`${shape} done`) && !/item/.test(shape)) || /download|sign-out|\.ics|papers\/|files\/|letters\//.test(path))
			continue;
		shapes.add(path);
		shapes.add(`${shape} done`);
		await page.goto(path);
		const kind = /item\/([0-9a-f-]{36})/.exec(path)?.[1];
		const name = kind ? `${shape} (${(await sql.query('select kind from item where id = $1', [kind])).rows[0]?.kind})` : shape;
		note(name, await settled(page));
		queue.push(...(await page.locator(`a[href^="${PORTAL}"]`).evaluateAll((links) => links.map((link) => link.getAttribute('href').split('#')[0]))));
	}
	await page.context().close();
}
console.log('\nWhat moves while a page comes (cumulative layout shift, slow 4G, processor 4 times slower; 0.05 is meant at most)');
for (const [shape, { moved, movers }] of [...worst].toSorted((a, b) => b[1].moved - a[1].moved))
	console.log(`${moved.toFixed(3)}  ${shape}${moved > 0.05 ? `\n       ${movers.join('\n       ')}` : ''}`);

/** Median times in milliseconds of an act on the slow line, and on this machine's own. */
async function compare(name, email, act) {
	const times = {};
	for (const slow of [true, false]) {
		const { page, devtools, signIn } = await phone(slow);
		await signIn(email);
		times[slow] = [];
		for (let run = 0; run < RUNS; run++) times[slow].push(await act(page, devtools));
		await page.context().close();
	}
	console.log(`${name}: ${median(times[true]).toFixed(0)} ms on a slow phone, ${median(times[false]).toFixed(0)} ms here`);
}
const { rows: questions } = await sql.query(
	`select i.id, i.title, c.email from item i join contact c on c.id = i.contact_id where i.kind = 'question' and i.state in ('asked', 'seen') and c.password_hash is not null
	order by c.email limit 1`
);
console.log('');
await compare('From the tap on a question to its field', questions[0].email, async (page) => {
	await page.goto(PORTAL);
	await settled(page);
	const started = Date.now();
	await page.locator(`a[href*="${questions[0].id}"]`).first().tap();
	await page.waitForURL(`**/item/${questions[0].id}`);
	await page.locator('main').locator('textarea, input:not([type=hidden],[type=file])').first().waitFor();
	return Date.now() - started;
});
// one of the scenario's papers, as if the firm had sent it to be approved
const { rows: files } = await sql.query(
	`with file as (
		insert into attachment (id, firm_id, name, bytes, sha256, content_type, storage_key, added_by_id, added_at)
		select gen_random_uuid(), p.firm_id, p.name, p.bytes, p.sha256, p.content_type, p.storage_key, s.id, now()
		from (select * from paper where content_type = 'application/pdf' order by bytes desc limit 1) p join staff s on s.firm_id = p.firm_id limit 1 returning id
	)
	update item i set kind = 'approve', spec = '{"earlier": []}', attachments = array[file.id] from file, contact c where c.id = i.contact_id and i.id = $1 returning i.id, c.email`,
	[questions[0].id]
);
for (const [name, cacheDisabled] of [
	['the first time', true],
	['with what the phone has kept', false]
])
	await compare(`A file to approve until its first page is drawn, ${name}`, files[0].email, async (page, devtools) => {
		await devtools.send('Network.setCacheDisabled', { cacheDisabled });
		const started = Date.now();
		await page.goto(`${PORTAL}/item/${files[0].id}`, { waitUntil: 'commit' });
		await page.waitForFunction(
			() =>
				document.querySelector('canvas[data-drawn]') ??
				[...document.querySelectorAll('.coming img')].find((picture) => picture.complete && picture.naturalWidth)
		);
		return Date.now() - started;
	});
await copy.stop();
