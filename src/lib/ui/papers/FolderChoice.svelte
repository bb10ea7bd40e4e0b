<script lang="ts">
	/** Chooses the folder of a client in which papers are to lie: one that is there, one that is proposed, or a new one by its name. */
	let {
		folders,
		proposed,
		value = $bindable(''),
		label
	}: {
		folders: readonly { id: string; name: string }[];
		/** names of the firm's scheme that are not there yet */ proposed: readonly string[];
		/** the id of a folder, `+` and the name of one that comes into being, empty for none */ value?: string;
		label: string;
	} = $props();
	const known = $derived([...folders.map(({ id }) => id), ...proposed.map((name) => `+${name}`)]);
	const isNew = $derived(value.startsWith('+') && !known.includes(value));
	const focusIt = (field: HTMLElement) => field.focus();
</script>

<label class="field"
	><span>{label}</span><select value={isNew ? '+' : value} onchange={(event) => (value = event.currentTarget.value)}>
		<option value="">no folder</option>
		{#each folders as folder (folder.id)}<option value={folder.id}>{folder.name}</option>{/each}
		{#each proposed as name (name)}<option value="+{name}">{name}</option>{/each}
		<option value="+">another folder …</option>
	</select></label
>
{#if isNew}<label class="field"
		><span>Name of the new folder</span><input
			value={value.slice(1)}
			maxlength="60"
			oninput={(event) => (value = `+${event.currentTarget.value}`)}
			{@attach focusIt}
		/></label
	>{/if}
<input type="hidden" name="folder" {value} />
