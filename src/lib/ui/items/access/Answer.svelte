<script lang="ts">
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../../forms/enhanced-form';
	import Unfold from '../../portal/Unfold.svelte';
	import { shortFirm, type AnswerProps } from '../answer';

	let { item, open, locale, brand, handling, pending }: AnswerProps<'access'> = $props();
	const say = $derived(sayer(locale));
	const access = $derived(item.spec);
</script>

<dl class="facts mt-4">
	<div>
		<dt>{access.system}</dt>
		<dd>
			{#if access.invite}{say('item.access.invite')} <b class="break-words">{access.invite}</b>{/if}
		</dd>
	</div>
</dl>
{#if open}
	<form method="post" action="?/handIn" class="mt-4" {@attach enhancedForm(handling)}>
		<button class="act w-full" disabled={pending}>{say('item.access.done')}</button>
	</form>
	{#if access.secret}
		<Unfold words="{say('item.access.secret')} …">
			<form method="post" action="?/handIn" class="mt-2 space-y-2" autocomplete="off" data-not-kept {@attach enhancedForm(handling)}>
				<label class="field"
					><span>{say('item.access.secret')}</span><input
						name="secret"
						maxlength="500"
						required
						autocomplete="off"
						spellcheck="false"
						aria-describedby="secret-hint"
					/></label
				>
				<p id="secret-hint" class="text-sm text-(--half)">{say('item.access.secret.hint')}</p>
				<button class="act-quiet w-full" disabled={pending}>{say('item.access.secret.give', { firm: shortFirm(brand.name) })}</button>
			</form>
		</Unfold>
	{/if}
{/if}
