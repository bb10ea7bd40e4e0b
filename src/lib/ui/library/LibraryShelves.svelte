<script lang="ts">
	/** The shelves of the Library. */
	let { at }: { at: 'texts' | 'lists' | 'questionnaires' | 'forms' | 'facts' | 'folders' | 'plans' } = $props();
</script>

<nav class="mt-2 flex gap-1 text-sm" aria-label="Shelves">
	<a class="only" href="/desk/library/lists" aria-current={at === 'lists' ? 'true' : undefined}>Request lists</a>
	<a class="only" href="/desk/library/questionnaires" aria-current={at === 'questionnaires' ? 'true' : undefined}>Questionnaires</a>
	<a class="only" href="/desk/library/forms" aria-current={at === 'forms' ? 'true' : undefined}>Forms for clients</a>
	<a class="only" href="/desk/library" aria-current={at === 'texts' ? 'true' : undefined}>Message texts</a>
	<a class="only" href="/desk/library/plans" aria-current={at === 'plans' ? 'true' : undefined}>Chase plans</a>
	<a class="only" href="/desk/library/facts" aria-current={at === 'facts' ? 'true' : undefined}>Facts</a>
	<a class="only" href="/desk/library/folders" aria-current={at === 'folders' ? 'true' : undefined}>Folders</a>
</nav>
