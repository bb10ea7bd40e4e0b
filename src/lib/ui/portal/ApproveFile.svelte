<script lang="ts">
	import type { AttachmentRow } from '$lib/server/attachments/attachments';
	import type { Remark } from '$lib/server/items/remarks';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../forms/enhanced-form';
	import FilePages from '../papers/FilePages.svelte';

	/** A file page by page; a touch on a page pins a remark there, and pinned ones show as numbers. */
	let {
		file,
		src,
		remarks,
		locale,
		pinAt = null,
		version = null,
		firstPage = false
	}: {
		file: AttachmentRow;
		src: string;
		remarks: Remark[];
		locale: string;
		/** where a pinned remark goes; null if none may be pinned */ pinAt?: string | null;
		/** the item's, where the firm pins */ version?: number | null;
		/** whether a picture of the first page can be had at `src` */ firstPage?: boolean;
	} = $props();
	const say = $derived(sayer(locale));
	let pin = $state<{ page: number; x: number; y: number } | null>(null);
	let problem = $state('');
	const pinned = $derived(remarks.filter((remark) => remark.pinned?.attachmentId === file.id));
</script>

<figure class="mt-4">
	<figcaption class="mb-1 flex items-baseline justify-between gap-3 text-[0.92rem]">
		<b class="min-w-0 truncate">{file.name}</b><a class="act-link" href="{src}?download" download>{say('item.approve.download')}</a>
	</figcaption>
	{#if pinAt}<p class="mb-2 text-[0.9rem] text-(--half)">{say('item.approve.pin')}</p>{/if}
	<div class="border border-(--rule-strong) bg-(--rule)">
		<FilePages
			{src}
			first={firstPage && file.contentType === 'application/pdf' ? `${src}/first-page` : null}
			name={file.name}
			contentType={file.contentType}
			label={(page, count) => say('item.approve.page', { page, count })}
			pick={pinAt
				? (page, x, y) => {
						pin = { page, x, y };
						problem = '';
					}
				: null}
		>
			{#snippet over(page)}
				{#each pinned as remark, i (remark.id)}{#if remark.pinned?.page === page}<span
							class="pin"
							style="left: {remark.pinned.x * 100}%; top: {remark.pinned.y * 100}%"
							title={remark.words}>{i + 1}</span
						>{/if}{/each}
				{#if pinAt && pin?.page === page}
					<form
						method="post"
						action={pinAt}
						class="pinning"
						style="top: calc({pin.y * 100}% + 14px)"
						{@attach enhancedForm({ onProblem: (p) => (problem = p.message), onSuccess: () => void (pin = null) })}
					>
						{#if version !== null}<input type="hidden" name="version" value={version} />{/if}
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
			{/snippet}
			{#snippet unshown(after)}
				<p class="notice-lamp">{after > 0 ? say('item.approve.more', { count: after }) : say('item.approve.unshown', { name: file.name })}</p>
			{/snippet}
		</FilePages>
	</div>
	{#if pinned.length > 0}
		<ol class="mt-2 list-decimal pl-6 text-[0.95rem]">
			{#each pinned as remark (remark.id)}<li>
					{remark.words}
					<span class="text-(--half)">({remark.by}, {say('item.talk.pinned', { page: remark.pinned!.page })})</span>
				</li>{/each}
		</ol>
	{/if}
</figure>

<style>
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
