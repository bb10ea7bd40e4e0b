<script lang="ts">
	import TextChoice from '$lib/ui/library/TextChoice.svelte';
	import WordsField from '$lib/ui/library/WordsField.svelte';
	import TextWords from '$lib/ui/library/TextWords.svelte';
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';
	import { goto } from '$app/navigation';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';

	let { data } = $props();
	const idempotencyKey = crypto.randomUUID();
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	// svelte-ignore state_referenced_locally
	let subject = $state(data.draft.subject);
	// svelte-ignore state_referenced_locally
	let body = $state(data.draft.body);
	let textWords = $state<string | null>(null);
	const s = $derived(data.summary);
	const people = (n: number) => `${n.toLocaleString('en')} ${n === 1 ? 'person' : 'people'}`;
	const minutes = $derived(data.perSecond > 0 ? Math.ceil(s.getsIt / data.perSecond / 60) : 0);

	function choose(event: Event) {
		const form = (event.target as HTMLElement).closest('form')!;
		const query = new URLSearchParams();
		for (const [name, value] of new FormData(form)) if (value) query.set(name, String(value));
		void goto(`?${query}`, { keepFocus: true, noScroll: true, replaceState: true });
	}
</script>

<svelte:head><title>Invite many · {data.firm.name}</title></svelte:head>

<WholeSheet>
	<p class="text-sm"><a class="act-link" href="/desk/clients">Clients</a></p>
	<h1 class="text-[1.65rem] leading-tight">
		{s.getsIt === 0 ? 'Nobody here waits for an invitation' : `${people(s.getsIt)} would be invited`}
	</h1>
	<p class="mt-1 text-[0.9rem] text-(--half)">
		Each gets a message of their own with a link of their own.{#if s.getsIt > data.perSecond && data.perSecond > 0}&nbsp;They leave {data.perSecond} a second,
			in about {minutes}
			{minutes === 1 ? 'minute' : 'minutes'}.{/if}
		{data.reminders.invitation ? `Reminders follow ${data.reminders.invitation} to those who have not joined.` : ''}
	</p>

	<div class="mt-5 grid gap-x-12 gap-y-8 lg:grid-cols-[minmax(0,1fr)_minmax(0,1.25fr)]">
		<section aria-labelledby="who">
			<h2 id="who" class="text-[1.1rem]">Who</h2>
			<form class="mt-2 space-y-2 text-[0.92rem]" onchange={choose}>
				<label class="flex gap-2"><input type="checkbox" name="mine" value="1" checked={data.filter.mine} /> only clients I look after</label>
				<label class="flex gap-2"
					><input type="checkbox" name="first" value="1" checked={data.filter.first} /> only the first person of each client</label
				>
				<label class="flex gap-2"
					><input type="checkbox" name="again" value="1" checked={data.filter.again} /> also people who were invited and have not joined</label
				>
				<label class="field"
					><span>Service</span><select name="service" value={data.filter.service ?? ''}
						><option value="">any</option>{#each data.services as service (service.id)}<option value={service.id}>{service.name}</option
							>{/each}</select
					></label
				>
				{#if data.lists.length > 0}<label class="field"
						><span>From the list</span><select name="list" value={data.filter.list ?? ''}
							><option value="">any</option>{#each data.lists as list (list.id)}<option value={list.id}>{list.fileName}</option>{/each}</select
						></label
					>{/if}
			</form>
			<dl class="facts mt-5" aria-live="polite">
				<div>
					<dt>Get it</dt>
					<dd>
						<b>{s.getsIt}</b>{#if s.sample.length > 0}<span class="text-(--half)"
								>: {s.sample.map((p) => `${p.name} (${p.clientName})`).join(', ')}{s.getsIt > s.sample.length ? ' …' : ''}</span
							>{/if}
					</dd>
				</div>
				{#if s.noAddress > 0}<div>
						<dt>No address</dt>
						<dd>{s.noAddress} <a class="act-link ml-2" href="/desk/rounds/contact-{s.firstWithout}">Put them in</a></dd>
					</div>{/if}
				{#if s.bounced > 0}<div>
						<dt>Mail came back</dt>
						<dd>{s.bounced}</dd>
					</div>{/if}
				{#if s.suspended > 0}<div>
						<dt>Suspended</dt>
						<dd>{s.suspended}</dd>
					</div>{/if}
				{#if s.invited > 0}<div>
						<dt>Invited already</dt>
						<dd>{s.invited}</dd>
					</div>{/if}
				<div>
					<dt>Have access</dt>
					<dd>{s.hasAccess}</dd>
				</div>
			</dl>
		</section>

		<section aria-labelledby="what">
			<h2 id="what" class="text-[1.1rem]">What it says</h2>
			{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
			<form
				method="post"
				action="?/send"
				class="mt-2 space-y-3"
				{@attach enhancedForm({
					onPending: (p) => (pending = p),
					onProblem: (p) => {
						problem = p.message;
						fields = p.fields;
					}
				})}
			>
				<input type="hidden" name="idempotencyKey" value={idempotencyKey} />
				<input type="hidden" name="mine" value={data.filter.mine ? '1' : ''} />
				<input type="hidden" name="first" value={data.filter.first ? '1' : ''} />
				<input type="hidden" name="again" value={data.filter.again ? '1' : ''} />
				{#if data.filter.service}<input type="hidden" name="service" value={data.filter.service} />{/if}
				{#if data.filter.list}<input type="hidden" name="list" value={data.filter.list} />{/if}
				<TextChoice
					kind="invitation"
					take={(text) => {
						subject = text.subject;
						body = text.body;
					}}
				/>
				<WordsField name="subject" label="Subject" bind:value={subject} fields={data.fields} line problem={fields.subject} />
				<WordsField name="body" label="Words" bind:value={body} fields={data.fields} rows={8} problem={fields.body} />
				<p class="border-l-2 border-(--rule-strong) pl-3 text-xs text-(--half)">
					Below your words stand a button, “Choose your password”, and a link to a page that explains how it works.
				</p>
				{#if data.texts && s.mayText > 0}<TextWords
						draft={data.draft.text}
						label="also by text message to {people(s.mayText)} whose number is known"
						problem={fields.textBody}
						bind:words={textWords}
					/>{/if}
				<button class="act" disabled={pending || s.getsIt === 0}>{pending ? 'Sending …' : `Invite ${people(s.getsIt)}`}</button>
			</form>
		</section>
	</div>

	{#if data.runs.length > 0}
		<section class="mt-10" aria-labelledby="runs">
			<h2 id="runs" class="text-[1.1rem]">Sent so far</h2>
			<ul class="mt-1">
				{#each data.runs as run (run.id)}
					<li class="flex flex-wrap items-baseline gap-x-4 border-b border-(--rule) py-1.5 text-[0.9rem]">
						<a class="font-semibold underline decoration-dotted underline-offset-2" href="/desk/clients/invite/{run.id}">{people(run.invited)}</a>
						<span class="text-(--half)"
							>{run.begunAt} by {run.begunBy}: {run.takenUp} joined, {run.opened} opened, {run.delivered} arrived{run.troubled > 0
								? `, ${run.troubled} did not arrive`
								: ''}</span
						>
					</li>
				{/each}
			</ul>
		</section>
	{/if}
</WholeSheet>
