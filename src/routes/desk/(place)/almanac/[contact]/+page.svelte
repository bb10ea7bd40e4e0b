<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { untrack } from 'svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { keepOnDevice } from '$lib/ui/forms/keep-on-device';

	let { data } = $props();
	let problem = $state('');
	let pending = $state(false);
	let writing = $state(false);
	let subject = $state(untrack(() => data.words?.subject ?? data.subject));
	let body = $state(untrack(() => data.words?.body ?? ''));
	const first = $derived(data.chase.contactName.split(' ')[0]);
	const query = $derived(`day=${page.url.searchParams.get('day')}`);
	const handling = (done: () => void | Promise<void> = () => {}) => ({
		onPending: (begins: boolean) => void (pending = begins),
		onProblem: (p: { message: string; fields?: Record<string, string> }) => void (problem = Object.values(p.fields ?? {})[0] ?? p.message),
		onSuccess: async () => {
			problem = '';
			await done();
		}
	});
	const toAlmanac = () => goto('/desk/almanac', { invalidateAll: true });
	/** whether anything is written at all: a step may only ask for a call */
	const writes = $derived(data.chase.by.length > 0 || data.chase.heldBack !== null);
</script>

<svelte:head><title>Reminder to {data.chase.contactName} · {data.firm.name}</title></svelte:head>
<main id="sheet" class="mx-auto max-w-5xl px-5 pt-5 pb-10 outline-none" tabindex="-1">
	<p class="text-sm"><a class="act-link" href="/desk/almanac">Back to the Almanac</a></p>
	<div class="mt-2 grid gap-8 lg:grid-cols-[minmax(0,1fr)_minmax(0,30rem)]">
		<div class="space-y-4">
			<header>
				<h1 class="text-[1.65rem] leading-tight">{writes ? 'Reminder to' : 'For'} {data.chase.contactName}</h1>
				<p class="text-(--half)">
					{data.when}, {data.ways}, for
					{#each data.clients as client, n (client.id)}{n > 0 ? ', ' : ''}<a
							class="underline decoration-dotted underline-offset-2"
							href="/desk/clients/{client.id}">{client.name}</a
						>{/each}
				</p>
				<p class="mt-1 text-sm text-(--half)">It goes {data.why}.</p>
			</header>
			{#if data.chase.leftOut}<p class="notice-lamp">
					<b>It is left out{data.changedBy ? ` by ${data.changedBy}` : ''}.</b>
					{first} hears nothing on that day; the next step of the plan comes as usual.
				</p>
			{:else if data.words}<p class="notice-lamp">It has words of its own for this once{data.changedBy ? `, from ${data.changedBy}` : ''}.</p>{/if}
			{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
			{#if data.mayChange && !data.heldBack}
				<div class="flex flex-wrap items-center gap-3">
					{#if data.chase.leftOut}
						<form method="post" action="?/putBack&{query}" {@attach enhancedForm(handling())}>
							<button class="act" disabled={pending}>Let it go after all</button>
						</form>
					{:else}
						{#if data.isNext}<form method="post" action="?/sendNow&{query}" {@attach enhancedForm(handling(toAlmanac))}>
								<button class="act" disabled={pending}>{writes ? 'Send it now' : 'Ask for it now'}</button>
							</form>{/if}
						<form method="post" action="?/leaveOut&{query}" {@attach enhancedForm(handling())}>
							<button class="act-quiet" disabled={pending}>Leave it out</button>
						</form>
						{#if writes}<button class="act-quiet" aria-expanded={writing} onclick={() => (writing = !writing)}>Other words for this once …</button
							>{/if}
						{#if data.words}<form method="post" action="?/usualWords&{query}" {@attach enhancedForm(handling(() => void (body = '')))}>
								<button class="act-link" disabled={pending}>its usual words again</button>
							</form>{/if}
					{/if}
				</div>
				{#if writing && !data.chase.leftOut}
					<form
						method="post"
						action="?/changeWords&{query}"
						class="space-y-2"
						{@attach enhancedForm(handling(() => void (writing = false)))}
						{@attach keepOnDevice(`words of the reminder ${data.chase.contactId} ${query}`)}
					>
						<label class="field"><span>About</span><input name="subject" maxlength="200" bind:value={subject} required /></label>
						<label class="field"
							><span>Words above the list of what is open</span><textarea name="body" rows="6" maxlength="4000" bind:value={body} required
							></textarea></label
						>
						<p class="text-sm text-(--half)">
							In the language of {first}. The greeting, the list and the link stand as always{data.text !== null
								? '; the text message keeps its words'
								: ''}.
						</p>
						<button class="act" disabled={pending}>Use these words for this once</button>
					</form>
				{/if}
				{#if !data.chase.leftOut}<form
						method="post"
						action="?/move&{query}"
						class="flex flex-wrap items-end gap-3"
						{@attach enhancedForm(handling(toAlmanac))}
					>
						<label class="field"><span>Or move it to a later day</span><input type="date" name="until" min={data.after} required /></label>
						<button class="act-quiet" disabled={pending}>Move it</button>
					</form>
					<p class="text-sm text-(--half)">
						Until then nobody reminds {first}. {!writes
							? ''
							: data.isNext
								? 'Sent now, it leaves as soon as sending hours allow.'
								: 'Only the next one can be sent before its day.'}
					</p>{/if}
			{/if}
			<section aria-labelledby="things">
				<h2 id="things" class="border-b border-(--rule-strong) pb-1 text-[1.05rem]">What it names, if it is still open then</h2>
				<ul class="text-sm">
					{#each data.chase.items as item (item.id)}<li class="border-b border-(--rule-strong) py-1.5">
							<a class="row-link" href="/desk/clients/{item.clientId}/item/{item.id}">{item.title}</a>{data.clients.length > 1
								? `, ${item.clientName}`
								: ''}
						</li>{/each}
				</ul>
			</section>
		</div>
		<div class="space-y-3">
			{#if data.html !== null}
				<p class="text-sm text-(--half)">As it will be, from {data.firm.name}: “{data.subject}”</p>
				<iframe
					title="The message as it will be"
					srcdoc={data.html}
					sandbox=""
					class="h-[38rem] w-full border border-(--rule-strong) bg-white {data.chase.leftOut ? 'opacity-60' : ''}"
				></iframe>
			{/if}
			{#if data.text !== null}
				<p class="text-sm text-(--half)">As a text message</p>
				<p class="max-w-sm rounded-lg border border-(--rule-strong) px-4 py-3 break-words whitespace-pre-line">{data.text}</p>
			{/if}
		</div>
	</div>
</main>
