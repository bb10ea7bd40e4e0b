<script lang="ts">
	import { enhancedForm, type FormHandling } from '../forms/enhanced-form';

	/** One press, and it is handed in. */
	let { words, handling, pending }: { words: string; handling: FormHandling; pending: boolean } = $props();
</script>

<form method="post" action="?/handIn" class="mt-5" {@attach enhancedForm(handling)}>
	<button class="act w-full" disabled={pending}>{words}</button>
</form>
