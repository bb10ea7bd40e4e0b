<script lang="ts">
	import type { SpecProps } from '../spec';

	let { line = $bindable() }: SpecProps<'access'> = $props();
	const access = $derived(line.spec);
</script>

<div class="grid gap-3 sm:grid-cols-2">
	<label class="field"><span>Which system</span><input bind:value={access.system} maxlength="80" placeholder="your bank, your till …" /></label>
	<label class="field"
		><span>Whom they add there</span><input bind:value={access.invite} maxlength="200" placeholder="books@our-firm.example" /></label
	>
</div>
<label class="mt-2 flex items-start gap-2 text-sm"
	><input type="checkbox" class="mt-1" bind:checked={access.secret} /> There is no other way than a password or code: they may give it here. It is kept
	apart, encrypted, shown with a record, and gone after 14 days.</label
>
