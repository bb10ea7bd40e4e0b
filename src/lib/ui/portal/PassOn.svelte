<script lang="ts">
	import { tick, untrack } from 'svelte';
	import type { Question } from '$lib/core/items/questions';
	import type { Passed } from '$lib/server/items/passing-on';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../forms/enhanced-form';
	import Unfold from './Unfold.svelte';

	/** Somebody else of the client is asked for one answer, or for those under one heading. */
	let {
		questions,
		people,
		passed,
		about = null,
		locale,
		refused,
		hurry
	}: {
		/** that can be passed on */ questions: readonly Question[];
		people: readonly { id: string; name: string }[];
		passed: readonly Passed[];
		/** for which question it is begun: a new one each time */ about?: { key: string } | null;
		locale: string;
		/** what was wrong, where no scripts run */ refused: string;
		/** sends what was typed and waits */ hurry: () => void;
	} = $props();
	const say = $derived(sayer(locale));
	const id = $props.id();
	let pending = $state(false);
	// svelte-ignore state_referenced_locally
	let problem = $state(refused);
	let fields = $state<Record<string, string>>({});
	// svelte-ignore state_referenced_locally
	let unfolded = $state(Boolean(refused));
	let sent = $state(false);
	let question = $state(untrack(() => questions[0]?.key ?? ''));
	// svelte-ignore state_referenced_locally
	let to = $state(people.length === 1 ? people[0].id : '');
	let words = $state('');
	let field = $state<HTMLSelectElement>();
	$effect(() => {
		if (!about) return;
		const { key } = about;
		untrack(() => {
			unfolded = true;
			sent = false;
			question = key;
		});
		void tick().then(() => {
			field?.focus();
			field?.scrollIntoView({ block: 'center' });
		});
	});
	/** what waits for whoever reads this */
	const yours = $derived(passed.filter(({ toReader, doneAt }) => toReader && doneAt === null));
	let told = $state('');
</script>

{#each yours as one (one.id)}
	<form
		method="post"
		action="?/passedDone"
		class="mt-5"
		{@attach enhancedForm({
			onPending: (p) => (pending = p),
			onProblem: (p) => (problem = p.message),
			onSuccess: () => void (told = one.byName)
		})}
	>
		<input type="hidden" name="id" value={one.id} />
		<button class="act w-full" disabled={pending} onclick={hurry}>{say('item.pass.finish', { name: one.byName })}</button>
	</form>
{/each}
{#if told}<p class="notice-lamp mt-3" role="status">{say('item.pass.finished', { name: told })}</p>{/if}
{#if people.length > 0}
	{#if sent}<p class="notice-lamp mt-3" role="status">{say('item.pass.sent')}</p>{/if}
	<Unfold words={say('item.pass.open')} bind:open={unfolded}>
		{#snippet children(close)}
			<form
				method="post"
				action="?/passOn"
				class="space-y-3 pb-4"
				{@attach enhancedForm({
					onPending: (p) => (pending = p),
					onProblem: (p) => {
						problem = p.message;
						fields = p.fields;
					},
					onSuccess: () => {
						problem = words = '';
						fields = {};
						sent = true;
						unfolded = false;
					}
				})}
			>
				{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
				<label class="field"
					><span>{say('item.pass.who')}</span><select
						name="to"
						required
						bind:value={to}
						bind:this={field}
						aria-invalid={fields.to ? 'true' : undefined}
					>
						{#if people.length > 1}<option value=""></option>{/if}
						{#each people as person (person.id)}<option value={person.id}>{person.name}</option>{/each}
					</select></label
				>
				<div class="field">
					<label class="field-label" for="{id}-which">{say('item.pass.which')}</label>
					<select id="{id}-which" name="question" bind:value={question}>
						{#each questions as q (q.key)}<option value={q.key}>{q.title}</option>{/each}
					</select>
				</div>
				<label class="flex min-h-11 items-center gap-2 text-[0.95rem]"
					><input type="checkbox" name="part" value="yes" /> {say('item.pass.part')}</label
				>
				<label class="field"
					><span>{say('item.pass.words')}</span><textarea name="words" rows="2" maxlength="400" bind:value={words}></textarea></label
				>
				<p class="text-sm text-(--half)">{say('item.pass.told')}</p>
				<div class="flex gap-2">
					<button class="act-quiet" disabled={pending}>{say('item.pass.send')}</button><button type="button" class="act-link" onclick={close}
						>{say('item.no.cancel')}</button
					>
				</div>
			</form>
		{/snippet}
	</Unfold>
{/if}
