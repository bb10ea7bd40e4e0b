<script lang="ts">
	import { applies, isSecret, TICKED, type PlaceField } from '$lib/core/signing/places';

	/** What a signer writes into their places, one field for each label. */
	let {
		fields,
		values = $bindable(),
		wrong,
		locale,
		lead,
		onlyIf,
		secret = ''
	}: {
		fields: readonly PlaceField[];
		/** by label */ values: Record<string, string>;
		/** what is wrong, by the name of the field */ wrong: Readonly<Record<string, string>>;
		locale: string;
		lead: string;
		/** said of a field that depends on a tick, where no scripts run */ onlyIf: (label: string) => string;
		/** what becomes of an account, said where its number is written */ secret?: string;
	} = $props();
	const id = $props.id();
</script>

{#if fields.length > 0}
	<fieldset class="space-y-3" lang={locale}>
		<legend class="serif mb-1 text-lg font-semibold">{lead}</legend>
		{#each fields as field, at (field.label)}
			{@const name = `place.${at}`}
			{@const help = [field.help, field.onlyIf ? onlyIf(field.onlyIf) : '', field.kind === 'account' ? secret : ''].filter(Boolean).join(' · ')}
			{@const described = [help ? `${id}-help-${at}` : '', wrong[name] ? `${id}-wrong-${at}` : ''].filter(Boolean).join(' ') || undefined}
			<div hidden={!applies(field, values)} data-not-kept={isSecret(field) ? '' : undefined}>
				{#if field.kind === 'tick'}
					<label class="flex items-start gap-3"
						><input
							type="checkbox"
							{name}
							value={TICKED}
							class="mt-1 h-5 w-5"
							checked={values[field.label] === TICKED}
							onchange={(event) => (values[field.label] = event.currentTarget.checked ? TICKED : '')}
							aria-describedby={described}
							aria-invalid={wrong[name] ? 'true' : undefined}
						/>
						{field.label}</label
					>
				{:else}
					<label class="field"
						><span>{field.label}</span>
						{#if field.kind === 'choice'}
							<select
								{name}
								value={values[field.label] ?? ''}
								onchange={(event) => (values[field.label] = event.currentTarget.value)}
								aria-describedby={described}
								aria-invalid={wrong[name] ? 'true' : undefined}
							>
								<option value=""></option>
								{#each field.choices as choice (choice)}<option>{choice}</option>{/each}
							</select>
						{:else}
							<input
								{name}
								value={values[field.label] ?? ''}
								maxlength="400"
								inputmode={field.kind === 'number' ? 'decimal' : field.kind === 'routing' ? 'numeric' : undefined}
								autocomplete={isSecret(field) ? 'off' : undefined}
								spellcheck={isSecret(field) ? 'false' : undefined}
								oninput={(event) => (values[field.label] = event.currentTarget.value)}
								aria-describedby={described}
								aria-invalid={wrong[name] ? 'true' : undefined}
							/>
						{/if}</label
					>
				{/if}
				{#if help}<p class="text-sm text-(--half)" id="{id}-help-{at}">{help}</p>{/if}
				{#if wrong[name]}<p class="field-problem" id="{id}-wrong-{at}">{wrong[name]}</p>{/if}
			</div>
		{/each}
	</fieldset>
{/if}
