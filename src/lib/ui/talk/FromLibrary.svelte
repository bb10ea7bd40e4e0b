<script lang="ts">
	import { tick } from 'svelte';
	import TextChoice from '../library/TextChoice.svelte';

	/** Takes words of the Library, filled in for who is written to, into the field of the form around it: below what stands there already. */
	let { to, words = $bindable() }: { to: { clientId: string; contactId: string }; words: string } = $props();
	let choosing = $state(false);
	let button = $state<HTMLButtonElement>();

	async function take({ body }: { body: string }) {
		const field = button!.form!.querySelector<HTMLTextAreaElement>('textarea[data-talk]')!;
		words = words.trim() === '' ? body : `${words.trimEnd()}\n\n${body}`;
		choosing = false;
		await tick();
		// what keeps words on the device hears of it as of a key
		field.dispatchEvent(new Event('input', { bubbles: true }));
		field.focus();
		field.setSelectionRange(words.length, words.length);
	}
</script>

<button type="button" class="act-link min-h-6 text-sm" aria-expanded={choosing} bind:this={button} onclick={() => (choosing = !choosing)}
	>From the Library …</button
>
{#if choosing}<div class="w-full"><TextChoice kind="answer" {to} {take} attach={(list) => list.focus()} /></div>{/if}
