<script lang="ts">
	import type { SpecProps } from '../spec';

	let { line = $bindable() }: SpecProps<'read'> = $props();
	const read = $derived(line.spec);
</script>

<label class="field"
	><span>Address of a page, if it is one</span><input type="url" bind:value={read.link} maxlength="500" placeholder="https://…" /></label
>
