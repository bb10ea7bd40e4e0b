<script lang="ts">
	/** What a client has answered, in their own words. */
	let { label, text }: { label: string; text: string } = $props();
</script>

<p class="mt-4 text-sm text-(--half)">{label}</p>
<blockquote class="mt-1 border-l-4 border-(--rule-strong) pl-3 break-words whitespace-pre-wrap">{text}</blockquote>
