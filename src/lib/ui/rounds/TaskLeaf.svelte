<script lang="ts">
	import { enhancedForm } from '../forms/enhanced-form';
	import { leafKeys } from '../desk/leaf-keys';
	import type { LeafProps } from './leaf-props';

	let { leaf, mine, pending, problem, handling, time }: LeafProps<'task'> = $props();
	const task = $derived(leaf.task);
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">{task.words}</h2>
		<p class="text-sm text-(--half)">
			<a class="underline decoration-dotted" href="/desk/clients/{task.clientId}">{task.clientName}</a> · for {task.staffName}, since {time(
				task.madeAt
			)}
		</p>
	</header>
	<p class="text-[0.95rem]">
		It follows from the answer to “{task.because}”{#if task.itemId}&#32;in
			<a class="underline decoration-dotted" href="/desk/clients/{task.clientId}/item/{task.itemId}">{task.itemTitle}</a>{/if}.
	</p>
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	{#if mine('judge_item')}
		<form method="post" action="/desk/tasks/{task.id}?/finish" data-acts {@attach enhancedForm(handling)}>
			<button class="act" aria-keyshortcuts="a" disabled={pending}>It is done <span class="key">a</span></button>
		</form>
		<form method="post" action="/desk/tasks/{task.id}?/give" class="flex items-end gap-3" {@attach enhancedForm(handling)}>
			<label class="field"
				><span>Give it to</span><select name="staffId"
					>{#each leaf.staff.filter(({ id }) => id !== task.staffId) as person (person.id)}<option value={person.id}>{person.name}</option
						>{/each}</select
				></label
			>
			<button class="act-quiet" disabled={pending}>Give it to them</button>
		</form>
	{/if}
</div>
