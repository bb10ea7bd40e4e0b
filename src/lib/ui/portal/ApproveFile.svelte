<script lang="ts">
	import type { PDFDocumentProxy } from 'pdfjs-dist';
	import type { AttachmentLine } from '$lib/server/requests/attachments';
	import type { Remark } from '$lib/server/requests/remarks';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../enhanced-form';

	/** A file page by page; a touch on a page pins a remark there, and pinned ones show as numbers. */
	let { file, src, remarks, locale, mayPin }: { file: AttachmentLine; src: string; remarks: Remark[]; locale: string; mayPin: boolean } = $props();
	const say = $derived(sayer(locale));
	const PAGES_MOST = 60;
	let pages = $state<{ number: number; ratio: number }[]>([]);
	let failed = $state(false);
	let pin = $state<{ page: number; x: number; y: number } | null>(null);
	let problem = $state('');
	const pinned = $derived(remarks.filter((remark) => remark.pinned?.attachmentId === file.id));
	const isPicture = $derived(file.contentType.startsWith('image/'));
	let loaded: PDFDocumentProxy | undefined;

	$effect(() => {
		if (isPicture) {
			pages = [{ number: 1, ratio: 0 }];
			return;
		}
		let left = false;
		void (async () => {
			try {
				const pdfjs = await import('pdfjs-dist');
				const worker = await import('pdfjs-dist/build/pdf.worker.min.mjs?url');
				pdfjs.GlobalWorkerOptions.workerSrc = worker.default;
				loaded = await pdfjs.getDocument({ url: src, isEvalSupported: false, useSystemFonts: false }).promise;
				const found: { number: number; ratio: number }[] = [];
				for (let n = 1; n <= Math.min(PAGES_MOST, loaded.numPages); n++) {
					const viewport = (await loaded.getPage(n)).getViewport({ scale: 1 });
					found.push({ number: n, ratio: viewport.height / viewport.width });
				}
				if (!left) pages = found;
			} catch {
				failed = true;
			}
		})();
		return () => {
			left = true;
			void loaded?.loadingTask.destroy();
		};
	});
	/** Draws a page once it comes near the sight. */
	function draw(number: number) {
		return (canvas: HTMLCanvasElement) => {
			const observer = new IntersectionObserver(
				(entries) => {
					if (!entries.some((entry) => entry.isIntersecting)) return;
					observer.disconnect();
					void (async () => {
						const page = await loaded!.getPage(number);
						const scale = (canvas.clientWidth / page.getViewport({ scale: 1 }).width) * Math.min(2, devicePixelRatio || 1);
						const viewport = page.getViewport({ scale });
						canvas.width = viewport.width;
						canvas.height = viewport.height;
						await page.render({ canvas, viewport }).promise;
					})();
				},
				{ rootMargin: '400px' }
			);
			observer.observe(canvas);
			return () => observer.disconnect();
		};
	}
	function touch(event: MouseEvent, number: number) {
		if (!mayPin) return;
		const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
		// from the keyboard there is no place: the middle of the page
		const keyboard = event.detail === 0;
		pin = { page: number, x: keyboard ? 0.5 : (event.clientX - box.left) / box.width, y: keyboard ? 0.5 : (event.clientY - box.top) / box.height };
		problem = '';
	}
</script>

<figure class="mt-4">
	<figcaption class="mb-1 flex items-baseline justify-between gap-3 text-[0.92rem]">
		<b class="min-w-0 truncate">{file.name}</b><a class="act-link" href="{src}?download" download>{say('item.approve.download')}</a>
	</figcaption>
	{#if mayPin && !failed}<p class="mb-2 text-[0.9rem] text-(--half)">{say('item.approve.pin')}</p>{/if}
	{#if failed}<p class="notice-lamp">{file.name}</p>{/if}
	{#each pages as page (page.number)}
		<div class="page">
			<button
				type="button"
				class="block w-full"
				class:cursor-crosshair={mayPin}
				disabled={!mayPin}
				aria-label={say('item.approve.page', { page: page.number, count: pages.length })}
				onclick={(event) => touch(event, page.number)}
			>
				{#if isPicture}<img {src} alt={file.name} class="block w-full" onerror={() => (failed = true)} />
				{:else}<canvas class="block w-full" style="aspect-ratio: {1 / page.ratio}" {@attach draw(page.number)}></canvas>{/if}
			</button>
			{#each pinned as remark, i (remark.id)}{#if remark.pinned?.page === page.number}<span
						class="pin"
						style="left: {remark.pinned.x * 100}%; top: {remark.pinned.y * 100}%"
						title={remark.words}>{i + 1}</span
					>{/if}{/each}
			{#if pin?.page === page.number}
				<form
					method="post"
					action="?/pin"
					class="pinning"
					style="top: calc({pin.y * 100}% + 14px)"
					{@attach enhancedForm({ onProblem: (p) => (problem = p.message), onSuccess: () => void (pin = null) })}
				>
					<input type="hidden" name="attachmentId" value={file.id} /><input type="hidden" name="page" value={pin.page} />
					<input type="hidden" name="x" value={pin.x} /><input type="hidden" name="y" value={pin.y} />
					<!-- svelte-ignore a11y_autofocus -->
					<label class="field"
						><span>{say('item.approve.pin.label', { page: pin.page })}</span><textarea name="words" rows="2" maxlength="4000" required autofocus
						></textarea></label
					>
					{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
					<div class="mt-2 flex gap-2">
						<button class="act">{say('item.approve.pin.save')}</button><button type="button" class="act-quiet" onclick={() => (pin = null)}
							>{say('item.no.cancel')}</button
						>
					</div>
				</form>
				<span class="pin new" style="left: {pin.x * 100}%; top: {pin.y * 100}%"></span>
			{/if}
		</div>
	{/each}
	{#if pinned.length > 0}
		<ol class="mt-2 list-decimal pl-6 text-[0.95rem]">
			{#each pinned as remark (remark.id)}<li>
					{remark.words} <span class="text-(--half)">({say('item.talk.pinned', { page: remark.pinned!.page })})</span>
				</li>{/each}
		</ol>
	{/if}
</figure>

<style>
	.page {
		position: relative;
		margin-bottom: 10px;
		border: 1px solid var(--rule-strong);
		background: #fff;
	}
	.pin {
		position: absolute;
		width: 24px;
		height: 24px;
		margin: -12px 0 0 -12px;
		border-radius: 50% 50% 50% 0;
		background: var(--act);
		color: #fff;
		font-size: 0.8rem;
		font-weight: 700;
		display: grid;
		place-items: center;
		pointer-events: none;
	}
	.new {
		background: #a8500b;
	}
	.pinning {
		position: absolute;
		left: 8px;
		right: 8px;
		z-index: 4;
		padding: 0.75rem;
		background: #fffefb;
		border: 1px solid var(--rule-strong);
		box-shadow: 0 6px 20px rgb(0 0 0 / 0.18);
	}
</style>
