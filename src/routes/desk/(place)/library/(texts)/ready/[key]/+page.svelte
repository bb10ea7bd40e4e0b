<script lang="ts">
	import { MESSAGE_TEXT_KIND } from '$lib/core/messages/message-texts';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import WordsShown from '$lib/ui/library/WordsShown.svelte';

	let { data } = $props();
	let problem = $state('');
</script>

<div class="space-y-4 p-5 pr-10">
	<header>
		<h2 class="text-[1.2rem]">{data.text.name}</h2>
		<p class="text-sm text-(--half)">{MESSAGE_TEXT_KIND[data.text.kind].words}, comes with Humble Lantern</p>
	</header>
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	<WordsShown subject={data.text.subject} body={data.text.body} />
	{#if data.mayKeep}
		<form method="post" {@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}>
			<button class="act">Copy it, to make it ours</button>
		</form>
	{/if}
	<p class="text-xs text-(--half)">It can be chosen as it is wherever such a message is written. A copy can be changed; this one stays.</p>
</div>
