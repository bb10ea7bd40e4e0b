<script lang="ts">
	import LibraryText from '$lib/ui/library/LibraryText.svelte';

	let { data } = $props();
	const empty = $derived({
		kind: data.kind ?? ('invitation' as const),
		language: data.clientLanguage,
		name: '',
		folder: '',
		tags: data.tag ? [data.tag] : [],
		subject: '',
		body: '',
		shared: 'all' as const,
		groupId: null
	});
</script>

<div class="space-y-4 p-5 pr-10">
	<h2 class="text-[1.2rem]">A new text</h2>
	{#key data.kind}<LibraryText
			text={empty}
			action="/desk/library/new"
			groups={data.groups}
			shelves={data.shelves}
			words="Save to the Library"
		/>{/key}
</div>
