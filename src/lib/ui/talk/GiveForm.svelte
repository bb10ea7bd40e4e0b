<script lang="ts">
	import { page } from '$app/state';
	import type { Remark } from '$lib/server/items/remarks';
	import type { SeeingColleague } from '$lib/server/talk/notes';
	import { enhancedForm } from '../forms/enhanced-form';

	/** Gives what a client wrote to one of the firm to answer. */
	let {
		action,
		words,
		colleagues,
		version,
		begin,
		sent
	}: {
		action: string;
		/** all that was written; what nobody has seen is given */ words: readonly Remark[];
		/** the others who may see the client */ colleagues: readonly SeeingColleague[];
		/** of the item that it is about */ version?: number;
		/** before it is given */ begin?: () => void;
		/** once it is */ sent?: () => void | Promise<void>;
	} = $props();
	let open = $state(false);
	let problem = $state('');
	let pending = $state(false);
	/** who has it */
	const has = $derived(words.findLast(({ side, seenAt }) => side === 'client' && !seenAt)?.given ?? null);
	const me = $derived<string>(page.data.person.id);
	const choices = $derived([
		...(has && has.id !== me ? [{ id: me, name: 'yourself' }] : []),
		...colleagues.filter(({ id, mayAnswer }) => mayAnswer && id !== has?.id),
		...(has ? [{ id: '', name: 'nobody in particular' }] : [])
	]);
</script>

{#if has}<p class="text-sm text-(--half)">
		{has.id === me
			? `${has.by === page.data.person.name ? 'You took it' : `${has.by} gave it to you`}: it is in your Rounds until it is answered.`
			: `${has.name} has it to answer, given by ${has.by}.`}
	</p>{/if}
{#if choices.length > 0}<button type="button" class="act-link min-h-6 text-sm" class:ms-3={!has} aria-expanded={open} onclick={() => (open = !open)}
		>Give to …</button
	>{/if}
{#if open}<form
		method="post"
		{action}
		class="flex flex-wrap items-end gap-3"
		{@attach enhancedForm({
			onPending(begins) {
				pending = begins;
				if (begins) begin?.();
			},
			onProblem: (p) => (problem = p.fields.to ?? p.message),
			async onSuccess() {
				problem = '';
				open = false;
				await sent?.();
			}
		})}
	>
		{#if problem}<p class="notice-wrong w-full" role="alert">{problem}</p>{/if}
		{#if version !== undefined}<input type="hidden" name="version" value={version} />{/if}
		<input type="hidden" name="had" value={has?.id ?? ''} />
		<!-- svelte-ignore a11y_autofocus --><label class="field"
			><span>Who answers</span><select name="to" autofocus aria-invalid={problem ? 'true' : undefined}
				>{#each choices as { id, name } (id)}<option value={id}>{name}</option>{/each}</select
			></label
		>
		<button class="act-quiet" disabled={pending}>Give it</button>
		<span class="basis-full text-xs text-(--half)">It stands in their Rounds, whoever looks after the client, and they get a mail.</span>
	</form>{/if}
