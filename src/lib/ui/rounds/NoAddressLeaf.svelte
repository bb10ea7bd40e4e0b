<script lang="ts">
	import { enhancedForm } from '../forms/enhanced-form';
	import { leafKeys } from '../desk/leaf-keys';
	import type { LeafProps } from './leaf-props';

	let { leaf, mine, pending, problem, doubted, handling }: LeafProps<'no_address'> = $props();
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">Where does mail to {leaf.contact.name} go?</h2>
		<p class="text-sm text-(--half)">
			{#each leaf.clients as client, i (client.id)}{i > 0 ? ', ' : ''}<a class="underline decoration-dotted" href="/desk/clients/{client.id}"
					>{client.name}</a
				>{/each}{leaf.responsible ? `, looked after by ${leaf.responsible}` : ''}{#if leaf.contact.phone}&nbsp;· <a href="tel:{leaf.contact.phone}"
					>{leaf.contact.phoneWords}</a
				>{/if}
		</p>
	</header>
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	{#if mine('invite')}{#key leaf.contact.id}
			<form method="post" action="/desk/contacts/{leaf.contact.id}?/changeAddress" class="space-y-3" {@attach enhancedForm(handling)}>
				<label class="field"
					><span>E-mail address of {leaf.contact.name}</span><!-- svelte-ignore a11y_autofocus --><input
						name="email"
						type="email"
						autocomplete="off"
						autofocus
						required
					/></label
				>
				<p class="text-xs text-(--half)">Enter saves it and opens the next one. Nobody is written to yet; inviting comes after.</p>
				<button class="act" disabled={pending}>Save the address</button>
				{#if doubted}<button class="act-quiet" name="anyway" value="yes" disabled={pending}>Use it anyway</button>{/if}
			</form>
		{/key}{/if}
</div>
