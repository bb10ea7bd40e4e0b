<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { staysWords } from '$lib/core/requests/ask-stands';
	import { choosing } from '$lib/ui/desk/choosing.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FileToAskBy from './FileToAskBy.svelte';
	import SheetColumns from './SheetColumns.svelte';
	import SheetResults from './SheetResults.svelte';
	import type { PageData } from './$types';

	/** One list for many: for clients that are chosen, or for the rows of a file. */
	let { data }: { data: PageData } = $props();
	const runId = crypto.randomUUID();
	let problem = $state('');
	let pending = $state(false);
	const sheet = $derived(data.sheet);
	// clients are chosen one by one; the rows of a file were chosen by whoever wrote it, and are left out one by one
	const picked = choosing(page.url.searchParams.get('file') ? `ask by ${page.url.searchParams.get('file')}` : 'ask many');
	const rows = $derived(
		data.lines.map((line) => ({ ...line, id: line.line === null ? line.clientId! : String(line.line), stays: staysWords(line) }))
	);
	/** the first row of a file for each client that has several */
	const firstOf = $derived(new Map([...rows].reverse().flatMap(({ clientId, line }) => (clientId && line !== null ? [[clientId, line]] : []))));
	function about({ stays, lacks, missing, clientId, line }: (typeof rows)[number]): string {
		if (stays !== null) return stays;
		const first = clientId === null ? undefined : firstOf.get(clientId);
		return [
			...(line !== null && first !== undefined && first < line ? [`the client of row ${first} again`] : []),
			...(lacks.length > 0 ? [`lacks ${lacks.join(', ')}: waits as a draft`] : missing > 0 ? [`${missing} not known yet`] : [])
		].join('; ');
	}
	const able = $derived(rows.filter((row) => row.stays === null));
	const isGoing = (row: (typeof rows)[number]) => row.stays === null && picked.has(row.id) === (sheet === null);
	const going = $derived(able.filter(isGoing));
	const setAll = (on: boolean) => picked.set(on === (sheet === null) ? able.map(({ id }) => id) : []);
	const whom = $derived(sheet ? 'row' : 'client');
	const counted = (n: number) => `${n.toLocaleString('en')} ${whom}${n === 1 ? '' : 's'}`;
	const missing = $derived(going.filter((row) => row.missing > 0).length);
	const lacking = $derived(going.filter((row) => row.lacks.length > 0).length);
	const invited = $derived(going.filter((row) => !row.hasAccess).length);

	/** what was chosen last, also while the page is still on its way there */
	let wanted = page.url.search;
	function choose(change: Record<string, string | null>) {
		const query = new URLSearchParams(wanted);
		for (const [name, value] of Object.entries(change)) {
			if (value) query.set(name, value);
			else query.delete(name);
		}
		wanted = `?${query}`;
		return goto(wanted, { keepFocus: true, noScroll: true, replaceState: true });
	}

	const heading = $derived(
		!data.list
			? sheet?.usedAt
				? `“${sheet.listName}” for the rows of a file`
				: 'One list for many clients'
			: data.byFile && !sheet
				? `“${data.list.name}” for the rows of a file`
				: going.length > 0
					? `“${data.list.name}” for ${counted(going.length)}`
					: `Choose who gets “${data.list.name}”`
	);
</script>

{#if sheet?.usedAt}
	<SheetResults {sheet} results={data.results} />
{:else}
	<h1 class="text-[1.65rem] leading-tight">{heading}</h1>
	<p class="mt-1 text-[0.9rem] text-(--half)">
		Each gets what fits them, by what we know of them and do for them.{missing > 0
			? ` For ${missing} something is not known yet; what depends on it goes along.`
			: ''}{lacking > 0
			? ` ${lacking} ${lacking === 1 ? 'lacks' : 'lack'} words to put in, and ${lacking === 1 ? 'waits' : 'wait'} as a draft.`
			: ''}{invited > 0 ? ` ${invited} get the invitation in the same message.` : ''}
	</p>
	<div class="mt-5 grid gap-x-12 gap-y-6 lg:grid-cols-[17rem_minmax(0,1fr)]">
		<section aria-label="Which list, which clients" class="space-y-3">
			<label class="field"
				><span>List of the Library</span><select
					value={data.list?.id ?? ''}
					onchange={(event) => void choose({ list: event.currentTarget.value || null })}
				>
					<option value="">Choose a list …</option>
					{#each data.lists as list (list.id)}<option value={list.id}>{list.name}, {list.lines} lines</option>{/each}
				</select></label
			>
			<fieldset class="space-y-1 text-[0.92rem]">
				<legend class="mb-1 text-[0.82rem] text-(--half)">Who is asked</legend>
				<label class="flex gap-2"
					><input type="radio" name="who" checked={!data.byFile} onchange={() => void choose({ by: null, file: null })} /> clients I choose here</label
				>
				<label class="flex gap-2"
					><input type="radio" name="who" checked={data.byFile} onchange={() => void choose({ by: 'file' })} /> the rows of a file</label
				>
			</fieldset>
			{#if !data.byFile}
				<label class="field"
					><span>Clients for whom we do</span><select
						value={data.filter.service ?? ''}
						onchange={(event) => void choose({ service: event.currentTarget.value || null })}
						><option value="">anything</option>{#each data.services as service (service)}<option value={service}>{service}</option>{/each}</select
					></label
				>
				<label class="flex gap-2 text-[0.92rem]"
					><input type="checkbox" checked={data.filter.mine} onchange={(event) => void choose({ mine: event.currentTarget.checked ? '1' : null })} /> only
					clients I look after</label
				>
			{/if}
			<label class="flex gap-2 text-[0.92rem]"
				><input type="checkbox" checked={data.filter.again} onchange={(event) => void choose({ again: event.currentTarget.checked ? '1' : null })} /> also
				who was asked by it before</label
			>
			{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
			{#if data.list && (sheet || !data.byFile)}
				<form
					method="post"
					action="?/make"
					class="space-y-2 pt-2"
					{@attach enhancedForm({ onPending: (p) => (pending = p), onProblem: (p) => (problem = p.message) })}
				>
					<input type="hidden" name="runId" value={sheet?.id ?? runId} /><input type="hidden" name="list" value={data.list.id} />
					<input type="hidden" name="mine" value={data.filter.mine ? '1' : ''} /><input
						type="hidden"
						name="again"
						value={data.filter.again ? '1' : ''}
					/>
					{#if sheet}<input type="hidden" name="file" value={sheet.id} /><input
							type="hidden"
							name="rows"
							value={going.map((row) => row.id).join(',')}
						/>{:else}<input type="hidden" name="only" value={going.map((row) => row.id).join(',')} />{/if}
					{#if data.filter.service}<input type="hidden" name="service" value={data.filter.service} />{/if}
					<button class="act w-full" name="send" value={data.list.goesByItself ? 'yes' : 'no'} disabled={pending || going.length === 0}
						>{pending
							? 'Working …'
							: going.length === 0
								? `Choose ${whom}s first`
								: data.list.goesByItself
									? `Send to ${counted(going.length)}`
									: `Make ${going.length === 1 ? 'one draft' : `${going.length} drafts`}`}</button
					>
					<button class="act-quiet w-full" name="send" value={data.list.goesByItself ? 'no' : 'yes'} disabled={pending || going.length === 0}
						>{data.list.goesByItself ? 'Make drafts instead' : 'Send them at once instead'}</button
					>
					<p class="text-xs text-(--half)">Drafts wait in Rounds and under “Asked”, where they are sent one by one or together.</p>
				</form>
			{/if}
		</section>
		{#if data.byFile && !sheet}
			<FileToAskBy {data} read={(id) => choose({ file: id, by: null })} />
		{:else if data.list || sheet}
			<section aria-label={sheet ? 'What is made of each row' : 'What each client gets'} class="min-w-0">
				{#if sheet}
					<SheetColumns {sheet} fields={data.fields} used={data.fieldsUsed} another={() => choose({ file: null, by: 'file' })} />
				{/if}
				{#if !data.list}
					<p class="text-[0.92rem] text-(--half)">Choose the list by which the {sheet!.rows} rows are asked.</p>
				{:else}
					<p class="mb-2 flex flex-wrap items-baseline gap-x-5 text-sm">
						<span class="text-(--half)"
							>{counted(going.length)} of {able.length} chosen{rows.length > able.length && sheet
								? `; ${rows.length - able.length} cannot be asked`
								: ''}</span
						>
						<button type="button" class="act-link" disabled={going.length === able.length} onclick={() => setAll(true)}
							>Choose all {able.length}</button
						>
						<button type="button" class="act-link" disabled={going.length === 0} onclick={() => setAll(false)}>Choose none</button>
					</p>
					<table class="w-full text-[0.89rem]">
						<thead class="text-left text-[0.8rem] text-(--half)"
							><tr
								><th class="w-8"></th>{#if sheet}<th class="w-12 py-1 font-normal">row</th>{/if}<th class="py-1 font-normal">client</th><th
									class="font-normal">to</th
								>{#if sheet}<th class="font-normal">put in</th>{/if}<th class="text-right font-normal">lines</th><th class="pl-4 font-normal"
								></th></tr
							></thead
						>
						<tbody>
							{#each rows as row (row.id)}
								<tr class="border-t border-(--rule) align-baseline" class:text-(--half)={row.stays !== null}>
									<td
										><input
											type="checkbox"
											checked={isGoing(row)}
											disabled={row.stays !== null}
											aria-label={sheet ? `Ask ${row.clientName}, row ${row.line}` : `Ask ${row.clientName}`}
											onclick={(event) => picked.toggle(event, row.id, able)}
										/></td
									>
									{#if sheet}<td class="text-(--half)">{row.line}</td>{/if}
									<td class="py-1"
										>{#if row.clientId}<a class="underline decoration-dotted underline-offset-2" href="/desk/clients/{row.clientId}"
												>{row.clientName}</a
											>{:else}{row.clientName || '–'}{/if}</td
									>
									<td>{row.contactName ?? '–'}</td>
									{#if sheet}<td class="break-words pr-3"
											>{Object.entries(row.values)
												.filter(([name]) => data.fieldsUsed.includes(name))
												.map(([name, value]) => `${data.fields[name] ?? name}: ${value}`)
												.join('; ')}</td
										>{/if}
									<td class="text-right">{row.clientId ? `${row.goes}${row.out > 0 ? ` of ${row.goes + row.out}` : ''}` : ''}</td>
									<td class="pl-4 text-(--lamp-deep)">{about(row)}</td>
								</tr>
							{/each}
						</tbody>
					</table>
				{/if}
			</section>
		{/if}
	</div>
{/if}
