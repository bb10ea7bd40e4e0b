<script lang="ts">
	import type { AttachmentRow } from '$lib/server/attachments/attachments';
	import { addAttachment } from './add-attachment';
	import { sizeWords } from '$lib/words/dates';

	/** Files of the firm beside a line: to read, to approve, or as an example. */
	let {
		ids = $bindable(),
		files = $bindable(),
		needed,
		one = false
	}: {
		ids: string[];
		files: Record<string, AttachmentRow>;
		needed: boolean;
		/** a single one, which the next takes the place of */ one?: boolean;
	} = $props();
	let busy = $state(false);
	let problem = $state('');

	async function add(input: HTMLInputElement) {
		problem = '';
		busy = true;
		for (const file of input.files ?? []) {
			const body = await addAttachment(file);
			if (typeof body === 'string') {
				problem = body;
				continue;
			}
			files[body.id] = body;
			if (one) ids.splice(0, ids.length, body.id);
			else ids.push(body.id);
		}
		busy = false;
		input.value = '';
	}
</script>

<div class="flex flex-wrap items-center gap-x-4 gap-y-1 text-sm">
	{#each ids as id, i (id)}
		<span
			><a class="act-link" href="/desk/attachments/{id}" target="_blank" rel="noopener">{files[id]?.name ?? 'a file'}</a>
			<span class="text-(--half)">{files[id] ? sizeWords('en', files[id].bytes) : ''}</span>
			<button type="button" class="act-link" aria-label="Remove {files[id]?.name ?? 'the file'}" onclick={() => ids.splice(i, 1)}>×</button></span
		>
	{/each}
	<label class="act-link relative cursor-pointer">
		{busy
			? 'Adding …'
			: one
				? ids.length > 0
					? 'Choose another file'
					: 'Choose the new file'
				: ids.length > 0
					? 'Add another file'
					: needed
						? 'Add the file they approve'
						: 'Add a file beside it'}
		<input
			type="file"
			multiple={!one}
			class="absolute inset-0 cursor-pointer opacity-0"
			disabled={busy}
			onchange={(event) => add(event.currentTarget)}
		/>
	</label>
	{#if problem}<span class="field-problem" role="alert">{problem}</span>{/if}
</div>
