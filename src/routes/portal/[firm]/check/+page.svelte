<script lang="ts">
	import { onMount, tick } from 'svelte';
	import { enhance } from '$app/forms';
	import { timeWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';

	let { data, form } = $props();
	const say = $derived(sayer(data.locale));
	let alive = $state(false);
	onMount(() => void (alive = true));
	let name = $state('');
	let digest = $state('');
	let busy = $state(false);
	let unreadable = $state(false);
	let asking = $state<HTMLFormElement>();
	let result = $state<HTMLElement>();
	const checked = $derived(form && 'checked' in form ? form.checked : null);
	const problem = $derived(form && 'problem' in form ? form.problem : null);
	const when = (at: string) => timeWords(data.locale, at, data.brand.timeZone, 'stamp');

	/** The digest is worked out here; nothing of the file leaves this browser. */
	async function take(file: File | undefined) {
		if (!file) return;
		busy = true;
		unreadable = false;
		name = file.name;
		try {
			const hash = await crypto.subtle.digest('SHA-256', await file.arrayBuffer());
			digest = [...new Uint8Array(hash)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
			await tick();
			asking?.requestSubmit();
		} catch {
			unreadable = true;
		}
		busy = false;
	}
</script>

<svelte:head><title>{say('check.title')} · {data.brand.name}</title></svelte:head>
<h1 class="text-3xl leading-tight">{say('check.title')}</h1>
<p class="mt-2">{say('check.lead', { firm: data.brand.name })}</p>
{#if alive}
	<label
		class="drop mt-5 block"
		ondragover={(event) => event.preventDefault()}
		ondrop={(event) => {
			event.preventDefault();
			void take(event.dataTransfer?.files[0]);
		}}
	>
		<span class="font-bold">{busy ? say('check.busy') : say('check.drop')}</span>
		<span class="block text-sm text-(--half)">{say('check.stays')}</span>
		<input type="file" accept="application/pdf,.pdf" onchange={(event) => void take(event.currentTarget.files?.[0])} />
	</label>
{/if}
{#if unreadable}<p class="notice-wrong mt-4" role="alert">{say('check.unreadable', { name })}</p>{/if}
<div role="status" tabindex="-1" bind:this={result}>
	{#if checked && !unreadable}
		{#if checked.file}
			<section class="found mt-5">
				<h2 class="text-xl">{say('check.found')}</h2>
				<p class="mt-1">{say('check.what', { title: checked.file.title, firm: data.brand.name, when: when(checked.file.sealedAt) })}</p>
				<ul class="mt-2">
					{#each checked.file.signers as signer (signer.name + signer.at)}<li>
							{say(signer.onPaper ? 'check.signerOnPaper' : 'check.signer', { name: signer.name, when: when(signer.at) })}
						</li>{/each}
				</ul>
			</section>
		{:else}<section class="notice-lamp mt-5">
				<h2 class="text-xl">{say('check.unknown')}</h2>
				<p class="mt-1">{say('check.unknown.why', { firm: data.brand.name })}</p>
			</section>{/if}
		<p class="mt-2 text-xs break-all text-(--half)">{say('check.sha', { digest: checked.digest })}</p>
	{/if}
</div>
{#if problem}<p class="notice-wrong mt-4" role="alert">{problem.message}</p>{/if}
<form
	method="post"
	class="mt-6 space-y-2"
	bind:this={asking}
	use:enhance={() =>
		async ({ update }) => {
			await update({ reset: false });
			result?.focus({ preventScroll: true });
			result?.scrollIntoView({ block: 'nearest' });
		}}
>
	<details open={!alive || undefined}>
		<summary class="cursor-pointer text-sm text-(--half)">{say('check.byDigest')}</summary>
		<label class="field mt-2"
			><span>{say('check.digest')}</span><input
				name="digest"
				bind:value={digest}
				maxlength="200"
				autocomplete="off"
				spellcheck="false"
				required
			/></label
		>
		<button class="act-quiet mt-2">{say('check.act')}</button>
	</details>
</form>

<style>
	.drop {
		position: relative;
		padding: 26px 18px;
		border: 2px dashed var(--rule-strong);
		background: #fffefb;
		cursor: pointer;
		text-align: center;
	}
	.drop:focus-within {
		outline: 3px solid var(--act);
	}
	.drop input {
		position: absolute;
		inset: 0;
		cursor: pointer;
		opacity: 0;
	}
	.found {
		padding: 14px 16px;
		border-left: 4px solid var(--act);
		background: #fffefb;
	}
</style>
