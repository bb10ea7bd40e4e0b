<script lang="ts">
	import { untrack } from 'svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import DropArea from '$lib/ui/papers/DropArea.svelte';
	import PhotoPages from '$lib/ui/papers/PhotoPages.svelte';
	import FileRows from '$lib/ui/papers/FileRows.svelte';
	import { addUploads, takesFiles, uploadsOf } from '$lib/ui/papers/uploads.svelte';
	import { sayer } from '$lib/words/words';

	let { data } = $props();
	const say = $derived(sayer(data.locale));
	let problem = $state('');
	let noted = $state('');
	let client = $state(untrack(() => data.clients[0]?.id ?? ''));
	/** where what is sent by mail comes in */
	const address = $derived(data.clients.find(({ id }) => id === client)?.address);
	const at = $derived(`${data.home}/send`);
	const choose = (files: Iterable<File> | undefined) =>
		void addUploads({ at, title: say('send.title'), slot: client }, [...(files ?? [])], data.sent);
	const several = $derived(data.clients.length > 1);
	const handling = { onProblem: (what: { message: string }) => (problem = what.message), onSuccess: () => void (problem = '') };
	const stateWords = (one: (typeof data.sent)[number]) =>
		one.filedUnder !== null
			? say('send.filed', { title: one.filedUnder })
			: one.waits
				? say('send.here', { firm: data.brand.name })
				: say('send.seen', { firm: data.brand.name });
</script>

<svelte:head><title>{say('send.title')} · {data.brand.name}</title></svelte:head>

<p><a class="act-link" href={data.home}>← {say('portal.back')}</a></p>
<h1 class="mt-1 text-[1.65rem] leading-tight">{say('send.title')}</h1>
<p class="mt-1 text-(--half)">{say('send.lead', { firm: data.brand.name })}</p>
{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
{#if data.clients.length === 0}<p class="mt-4">{say('send.nobody', { firm: data.brand.name })}</p>
{:else}
	{#if several}<label class="field mt-4"
			><span>{say('send.client')}</span><select bind:value={client}
				>{#each data.clients as one (one.id)}<option value={one.id}>{one.name}</option>{/each}</select
			></label
		>{/if}
	<DropArea take={choose}>
		{#snippet children(over)}
			<div class="drop mt-4" class:over>
				<label class="act w-full">
					<input type="file" multiple class="sr" {@attach takesFiles(choose)} />
					{say('item.paper.choose')}
				</label>
				<label class="act act-second photo mt-2 w-full">
					<input type="file" accept="image/*" capture="environment" class="sr" {@attach takesFiles(choose)} />
					{say('item.paper.photo')}
				</label>
			</div>
		{/snippet}
	</DropArea>
	<PhotoPages take={choose} locale={data.locale} />
{/if}
{#if address}
	<p class="mt-4 text-[0.92rem]">
		{say('send.mail')}
		<a class="block py-1 break-all underline underline-offset-4" href="mailto:{address}">{address}</a>
		<span class="text-(--half)">{data.own ? say('send.mail.from', { address: data.own }) : ''}</span>
	</p>
{/if}
<FileRows papers={[]} uploads={uploadsOf(at)} home={data.home} locale={data.locale}>{#snippet remove()}{/snippet}</FileRows>
{#if data.sent.length > 0}
	<h2 class="mt-7 text-[1.15rem]">{say('send.sent')}</h2>
	<ul class="mt-1 border-t border-(--rule-strong)">
		{#each data.sent as one (one.id)}
			<li class="border-b border-(--rule-strong) py-3">
				<div class="flex items-baseline justify-between gap-3">
					<a class="min-w-0 truncate underline decoration-dotted underline-offset-4" href="{data.home}/papers/{one.id}?download" download
						>{one.name}</a
					>
					<span class="text-sm whitespace-nowrap text-(--half)">{one.on}</span>
				</div>
				<p class="text-[0.9rem] text-(--half)">{several ? `${one.clientName} · ` : ''}{stateWords(one)}</p>
				{#if one.waits}
					<form
						method="post"
						action="?/note"
						class="mt-1 flex items-end gap-3"
						{@attach enhancedForm({ ...handling, onSuccess: () => void ((problem = ''), (noted = one.id)) })}
					>
						<input type="hidden" name="paperId" value={one.id} />
						<label class="field flex-1"
							><span>{say('send.note')}</span><input name="note" value={one.note} maxlength="300" aria-label="{say('send.note')} {one.name}" /></label
						>
						<button class="act-quiet" aria-label={say('send.keep', { name: one.name })}>{say('send.save')}</button>
					</form>
					{#if noted === one.id}<p class="text-[0.86rem] text-(--half)" role="status">{say('send.noted')}</p>{/if}
					<form method="post" action="?/removePaper" {@attach enhancedForm(handling)}>
						<input type="hidden" name="paperId" value={one.id} />
						<button class="act-link" aria-label={say('send.back.name', { name: one.name })}>{say('send.back')}</button>
					</form>
				{:else if one.note}<p class="text-[0.9rem]">“{one.note}”</p>{/if}
			</li>
		{/each}
	</ul>
{/if}

<style>
	.drop {
		border: 2px dashed transparent;
		border-radius: 8px;
	}
	.over {
		border-color: var(--act);
		background: #fffefb;
	}
	label:focus-within {
		outline: 3px solid var(--ink);
		outline-offset: 2px;
	}
	/* the camera is at hand where a finger points */
	.photo {
		display: none;
	}
	@media (pointer: coarse) {
		.photo {
			display: flex;
		}
	}
</style>
