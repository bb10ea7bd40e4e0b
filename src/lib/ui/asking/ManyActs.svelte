<script lang="ts">
	import { addDays } from '$lib/core/calendar/firm-calendar';
	import type { ManyAct } from '$lib/core/requests/many-acts';
	import type { Foreseen } from '$lib/server/requests/act-on-many';
	import { askDesk } from '../desk/ask-desk';
	import { enhancedForm } from '../forms/enhanced-form';

	/** Says what will happen when something is done with many lines or drafts, before it is done. */
	let {
		act,
		ids,
		query,
		plans,
		today,
		close,
		done
	}: {
		act: ManyAct;
		/** what is chosen */ ids: string[];
		/** by which the chosen is understood */ query: Record<string, string>;
		plans: { key: string; name: string; words: string }[];
		today: string;
		close: () => void;
		done: (act: ManyAct, results: unknown) => void;
	} = $props();

	const drafts = $derived(query.show === 'drafts');
	// svelte-ignore state_referenced_locally
	let dueOn = $state(addDays(today, 7));
	let plan = $state('');
	let rank = $state('1');
	let foreseen = $state<Foreseen | null>(null);
	let refused = $state('');
	let looking = $state(false);
	let pending = $state(false);
	let problem = $state('');

	const TITLES = $derived<Record<ManyAct, string>>({
		extend: drafts ? 'Set the due date' : 'Move the due date',
		plan: 'Choose the reminders',
		person: 'Choose who answers',
		accept: 'Accept what came in',
		waive: 'Waive what is not needed any more',
		withdraw: 'Withdraw what was asked',
		send: 'Send the drafts',
		remove: 'Delete the drafts'
	});
	const n = $derived(foreseen?.items.length ?? 0);
	const things = $derived(drafts ? (n === 1 ? 'one draft' : `${n} drafts`) : n === 1 ? 'one line' : `${n} lines`);
	const button = $derived(
		{
			extend: `${drafts ? 'Set' : 'Move'} the due date of ${things}`,
			plan: `Set the reminders of ${things}`,
			person: drafts ? `Address ${things} to them` : `Ask them for ${things}`,
			accept: `Accept ${things}`,
			waive: `Waive ${things}`,
			withdraw: `Withdraw ${things}`,
			send: `Send ${things}`,
			remove: `Delete ${things}`
		}[act]
	);
	const given = $derived<Record<string, string>>({
		act,
		...(act === 'extend' ? { dueOn } : {}),
		...(act === 'plan' ? { plan } : {}),
		...(act === 'person' ? { rank } : {})
	});
	const complete = $derived((act !== 'plan' || plan !== '') && (act !== 'extend' || dueOn !== ''));

	// as text: a live update that changes nothing about it must not ask again, and so disable the button somebody is just pressing
	const question = $derived(complete ? JSON.stringify({ ...query, ...given, ids: JSON.stringify(ids) }) : null);
	let asked = 0;
	$effect(() => {
		const fields = question && (JSON.parse(question) as Record<string, string>);
		const mine = ++asked;
		foreseen = null;
		refused = '';
		looking = fields !== null;
		if (!fields) return;
		let why = '';
		// a date is typed digit by digit
		const timer = setTimeout(
			() =>
				void askDesk<{ foreseen?: Foreseen; refused?: string }>('?/foresee', fields, (message) => (why = message)).then((answer) => {
					if (mine !== asked) return;
					looking = false;
					foreseen = answer?.foreseen ?? null;
					refused = answer ? (answer.refused ?? '') : why || 'That did not reach us. Please try again.';
				}),
			fields.act === 'extend' ? 200 : 0
		);
		return () => clearTimeout(timer);
	});
	function open(dialog: HTMLDialogElement) {
		dialog.showModal();
	}
</script>

<dialog class="sheet-dialog many" aria-labelledby="many-title" {@attach open} onclose={close}>
	<h2 id="many-title" class="text-xl">{TITLES[act]}</h2>
	<form
		method="post"
		action="?/act"
		{@attach enhancedForm({
			onPending: (p) => (pending = p),
			onProblem: (p) => (problem = p.message),
			onSuccess: (answer) => done(act, answer?.results)
		})}
	>
		{#if act === 'extend'}
			<div class="mt-3 flex flex-wrap items-end gap-3">
				<label class="field"><span>New due date</span><input type="date" name="dueOn" bind:value={dueOn} min={today} required /></label>
				<span class="flex gap-3 pb-2 text-sm">
					{#each [['in a week', 7], ['in two weeks', 14]] as const as [words, days] (days)}<button
							type="button"
							class="act-link"
							onclick={() => (dueOn = addDays(today, days))}>{words}</button
						>{/each}
				</span>
			</div>
		{:else if act === 'plan'}
			<label class="field mt-3"
				><span>Reminders</span><select name="plan" bind:value={plan} required
					><option value="">Choose …</option>{#each plans as one (one.key)}<option value={one.key}>{one.name}: {one.words}</option>{/each}</select
				></label
			>
		{:else if act === 'person'}
			<label class="field mt-3"
				><span>Of each client</span><select name="rank" bind:value={rank}
					><option value="1">their first person</option><option value="2">their second person</option><option value="3">their third person</option
					></select
				></label
			>
		{/if}
		<input type="hidden" name="act" value={act} /><input type="hidden" name="show" value={query.show} />
		<input type="hidden" name="items" value={JSON.stringify(foreseen?.items ?? [])} />
		<div class="foreseen" aria-live="polite">
			{#if foreseen}
				{#if foreseen.words.length > 0}
					<ul class="list-disc space-y-1 pl-5">
						{#each foreseen.words as sentence (sentence)}<li>{sentence}</li>{/each}
					</ul>
				{:else}<p>It can be done with none of them.</p>{/if}
				{#if foreseen.stays.length > 0}
					<p class="mt-3 font-semibold">
						{foreseen.stays.length === 1 ? 'One stays as it is:' : `${foreseen.stays.length} stay as they are:`}
					</p>
					<ul class="mt-1 max-h-40 overflow-auto text-sm">
						{#each foreseen.stays as one, i (i)}<li class="border-t border-(--rule) py-1">
								<b>{one.clientName}</b>
								{one.title}: <span class="text-(--half)">{one.problem}</span>
							</li>{/each}
					</ul>
				{/if}
			{:else if refused}<p class="field-problem">{refused}</p>
			{:else if looking}<p class="text-(--half)">Looking what will happen …</p>
			{:else}<p class="text-(--half)">Choose, and what will happen is said here.</p>{/if}
		</div>
		{#if problem}<p class="notice-wrong mb-3" role="alert">{problem}</p>{/if}
		<div class="flex flex-wrap gap-2">
			<button class="act" disabled={pending || n === 0}>{pending ? 'One moment …' : n === 0 ? TITLES[act] : button}</button>
			<button type="button" class="act-quiet" onclick={close}>Cancel</button>
		</div>
	</form>
</dialog>

<style>
	.many {
		width: min(560px, calc(100vw - 32px));
	}
	.foreseen {
		min-height: 7.5rem;
		margin: 1rem 0;
		padding-top: 0.8rem;
		border-top: 1px solid var(--rule-strong);
		font-size: 0.95rem;
	}
</style>
