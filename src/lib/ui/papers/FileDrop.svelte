<script lang="ts">
	import DropArea from './DropArea.svelte';

	/** A file that is chosen, or dropped anywhere on the page, and read by the server before anything happens with it. */
	let {
		to,
		bytesMost,
		accept,
		kinds,
		advice,
		read
	}: {
		/** address it is sent to, which answers with the id of what was read */ to: string;
		bytesMost: number;
		accept: string;
		/** which files can be read, in words */ kinds: string;
		/** what to do with one that is too large */ advice: string;
		/** told the id */ read: (id: string) => Promise<void>;
	} = $props();
	let problem = $state('');
	let reading = $state('');

	async function take(files: FileList | null | undefined) {
		const file = files?.[0];
		if (!file || reading) return;
		problem = '';
		// the server breaks a longer upload off, of which a browser tells no more than that the line is gone
		if (file.size > bytesMost) {
			problem = `${file.name} is larger than ${bytesMost / 1024 / 1024} MB. Nothing was read; ${advice}`;
			return;
		}
		reading = file.name;
		try {
			const answer = await fetch(to, {
				method: 'POST',
				body: file,
				headers: { 'x-file-name': encodeURIComponent(file.name.toWellFormed()), 'content-type': 'application/octet-stream' }
			});
			const said = (await answer.json()) as { id?: string; message?: string };
			if (said.id) await read(said.id);
			else problem = said.message ?? 'This file was not read. Please try again.';
		} catch {
			problem = 'The file did not reach us. Please try again.';
		}
		reading = '';
	}
</script>

<DropArea take={(files) => void take(files)}>
	{#snippet children(over)}
		<div class="drop" class:over>
			{#if reading}
				<p aria-live="polite">Reading {reading} …</p>
			{:else}
				<label class="act"
					><input
						type="file"
						class="sr-only"
						{accept}
						onchange={(event) => {
							void take(event.currentTarget.files);
							event.currentTarget.value = '';
						}}
					/>Choose a file</label
				>
				<span class="text-sm text-(--half)">or drop it here. {kinds}</span>
			{/if}
		</div>
	{/snippet}
</DropArea>
{#if problem}<p class="notice-wrong mt-3 max-w-[46rem]" role="alert">{problem}</p>{/if}

<style>
	.drop {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 1rem;
		max-width: 46rem;
		min-height: 84px;
		margin-top: 14px;
		padding: 1rem 1.25rem;
		border: 1.5px dashed var(--rule-strong);
		border-radius: 6px;
		background: var(--leaf);
	}
	.over {
		border-color: var(--lamp-edge);
		background: var(--lamp-soft);
	}
	label:has(:focus-visible) {
		outline: 2px solid var(--ink);
		outline-offset: 2px;
	}
</style>
