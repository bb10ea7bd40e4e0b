<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { choosing } from '$lib/ui/desk/choosing.svelte';
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';

	let { data } = $props();
	const runId = crypto.randomUUID();
	let problem = $state('');
	let pending = $state(false);
	const chosen = choosing('ask many');
	/** who can be asked; nobody is, until they are chosen */
	const able = $derived(data.lines.filter((line) => line.stands === null && line.goes > 0).map((line) => ({ ...line, id: line.clientId })));
	const going = $derived(able.filter((line) => chosen.has(line.id)));
	const clients = (n: number) => `${n.toLocaleString('en')} ${n === 1 ? 'client' : 'clients'}`;
	const STANDS = {
		no_contact: 'has nobody to ask yet',
		no_address: 'no e-mail address yet',
		bounced: 'mail came back',
		suspended: 'whom to ask is suspended',
		asked_already: 'was asked by this list before'
	} as const;
	const missing = $derived(going.filter((line) => line.missing > 0).length);
	const invited = $derived(going.filter((line) => !line.hasAccess).length);

	/** what was chosen last, also while the page is still on its way there */
	let wanted = page.url.search;
	function choose(change: Record<string, string | null>) {
		const query = new URLSearchParams(wanted);
		for (const [name, value] of Object.entries(change)) {
			if (value) query.set(name, value);
			else query.delete(name);
		}
		wanted = `?${query}`;
		void goto(wanted, { keepFocus: true, noScroll: true, replaceState: true });
	}
</script>

<svelte:head><title>Ask many · {data.firm.name}</title></svelte:head>

<WholeSheet>
	<p class="text-sm"><a class="act-link" href="/desk/clients">Clients</a></p>
	<h1 class="text-[1.65rem] leading-tight">
		{data.list
			? going.length > 0
				? `“${data.list.name}” for ${clients(going.length)}`
				: `Choose who gets “${data.list.name}”`
			: 'One list for many clients'}
	</h1>
	<p class="mt-1 text-[0.9rem] text-(--half)">
		Each gets what fits them, by what we know of them and do for them.{#if data.list}
			{missing > 0 ? ` For ${missing} something is not known yet; what depends on it goes along.` : ''}{invited > 0
				? ` ${invited} get the invitation in the same message.`
				: ''}{/if}
	</p>
	<div class="mt-5 grid gap-x-12 gap-y-6 lg:grid-cols-[17rem_minmax(0,1fr)]">
		<section aria-label="Which list, which clients" class="space-y-3">
			<label class="field"
				><span>List of the Library</span><select
					value={data.list?.id ?? ''}
					onchange={(event) => choose({ list: event.currentTarget.value || null })}
				>
					<option value="">Choose a list …</option>
					{#each data.lists as list (list.id)}<option value={list.id}>{list.name}, {list.lines} lines</option>{/each}
				</select></label
			>
			<label class="field"
				><span>Clients for whom we do</span><select
					value={data.filter.service ?? ''}
					onchange={(event) => choose({ service: event.currentTarget.value || null })}
					><option value="">anything</option>{#each data.services as service (service)}<option value={service}>{service}</option>{/each}</select
				></label
			>
			<label class="flex gap-2 text-[0.92rem]"
				><input type="checkbox" checked={data.filter.mine} onchange={(event) => choose({ mine: event.currentTarget.checked ? '1' : null })} /> only clients
				I look after</label
			>
			<label class="flex gap-2 text-[0.92rem]"
				><input type="checkbox" checked={data.filter.again} onchange={(event) => choose({ again: event.currentTarget.checked ? '1' : null })} /> also who
				was asked by it before</label
			>
			{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
			{#if data.list}
				<form
					method="post"
					action="?/make"
					class="space-y-2 pt-2"
					{@attach enhancedForm({ onPending: (p) => (pending = p), onProblem: (p) => (problem = p.message) })}
				>
					<input type="hidden" name="runId" value={runId} /><input type="hidden" name="list" value={data.list.id} />
					<input type="hidden" name="mine" value={data.filter.mine ? '1' : ''} /><input
						type="hidden"
						name="again"
						value={data.filter.again ? '1' : ''}
					/>
					<input type="hidden" name="only" value={going.map((line) => line.id).join(',')} />
					{#if data.filter.service}<input type="hidden" name="service" value={data.filter.service} />{/if}
					<button class="act w-full" name="send" value={data.list.goesByItself ? 'yes' : 'no'} disabled={pending || going.length === 0}
						>{pending
							? 'Working …'
							: going.length === 0
								? 'Choose clients first'
								: data.list.goesByItself
									? `Send to ${clients(going.length)}`
									: `Make ${going.length === 1 ? 'one draft' : `${going.length} drafts`}`}</button
					>
					<button class="act-quiet w-full" name="send" value={data.list.goesByItself ? 'no' : 'yes'} disabled={pending || going.length === 0}
						>{data.list.goesByItself ? 'Make drafts instead' : 'Send them at once instead'}</button
					>
					<p class="text-xs text-(--half)">Drafts wait in Rounds and under “Asked”, where they are sent one by one or together.</p>
				</form>
			{/if}
		</section>
		{#if data.list}
			<section aria-label="What each client gets">
				<p class="mb-2 flex flex-wrap items-baseline gap-x-5 text-sm">
					<span class="text-(--half)">{clients(going.length)} of {able.length} chosen</span>
					<button type="button" class="act-link" disabled={going.length === able.length} onclick={() => chosen.set(able.map((line) => line.id))}
						>Choose all {able.length}</button
					>
					<button type="button" class="act-link" disabled={going.length === 0} onclick={() => chosen.clear()}>Choose none</button>
				</p>
				<table class="w-full text-[0.89rem]">
					<thead class="text-left text-[0.8rem] text-(--half)"
						><tr
							><th class="w-8"></th><th class="py-1 font-normal">client</th><th class="font-normal">to</th><th class="text-right font-normal"
								>lines</th
							><th class="pl-4 font-normal"></th></tr
						></thead
					>
					<tbody>
						{#each data.lines as line (line.clientId)}
							<tr class="border-t border-(--rule)" class:text-(--half)={line.stands !== null}>
								<td
									><input
										type="checkbox"
										checked={chosen.has(line.clientId) && line.stands === null && line.goes > 0}
										disabled={line.stands !== null || line.goes === 0}
										aria-label="Ask {line.clientName}"
										onclick={(event) => chosen.toggle(event, line.clientId, able)}
									/></td
								>
								<td class="py-1"
									><a class="underline decoration-dotted underline-offset-2" href="/desk/clients/{line.clientId}">{line.clientName}</a></td
								>
								<td>{line.contactName ?? '–'}</td>
								<td class="text-right">{line.goes}{line.out > 0 ? ` of ${line.goes + line.out}` : ''}</td>
								<td class="pl-4 text-(--lamp-deep)"
									>{line.stands
										? STANDS[line.stands]
										: line.goes === 0
											? 'nothing of it fits'
											: line.missing > 0
												? `${line.missing} not known yet`
												: ''}</td
								>
							</tr>
						{/each}
					</tbody>
				</table>
			</section>
		{/if}
	</div>
</WholeSheet>
