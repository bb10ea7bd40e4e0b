<script lang="ts">
	let { id, message }: { id: string; message: string | undefined } = $props();
</script>

{#if message}<p class="field-problem" {id}>{message}</p>{/if}
