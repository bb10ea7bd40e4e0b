<script lang="ts">
	import { enhancedForm } from '../forms/enhanced-form';
	import { leafKeys } from '../desk/leaf-keys';
	import type { LeafProps } from './leaf-props';

	let { leaf, mine, pending, problem, handling, time }: LeafProps<'text'> = $props();
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">{leaf.text.contactName} answered by text</h2>
		<p class="text-sm text-(--half)">
			{time(leaf.text.cameAt)}{#if leaf.text.clientId}&nbsp;·
				<a class="underline decoration-dotted" href="/desk/clients/{leaf.text.clientId}">{leaf.text.clientName}</a>{/if}{#if leaf.text.phone}&nbsp;·
				<a href="tel:{leaf.text.phone}">{leaf.text.phoneWords}</a>{/if}
		</p>
	</header>
	<blockquote class="border-l-2 border-(--lamp-edge) pl-4 text-[1.05rem] whitespace-pre-line">{leaf.text.words}</blockquote>
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	{#if mine('judge_item')}<form method="post" action="/desk/texts/{leaf.text.id}?/markSeen" data-acts {@attach enhancedForm(handling)}>
			<button class="act" aria-keyshortcuts="a" disabled={pending}>I have read it <span class="key">a</span></button>
		</form>{/if}
	<p class="text-xs text-(--half)">It stays in the client’s history. If they need an answer, call or write to them.</p>
</div>
