<script lang="ts">
	import FirmSettings from '$lib/ui/firm/FirmSettings.svelte';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import { LANGUAGE_CODES, LANGUAGES } from '$lib/core/people/languages';
	import type { PageData } from './$types';

	/** Name, address and the like of the firm. */
	let { data }: { data: PageData } = $props();
	const f = $derived(data.details);
</script>

<FirmSettings title="The firm" action="changeDetails" mayChange={data.maySetUp}>
	{#snippet shown()}
		<dl class="facts mt-2">
			<div>
				<dt>Address</dt>
				<dd class="whitespace-pre-line">{f.address || 'not given yet'}</dd>
			</div>
			<div>
				<dt>Country</dt>
				<dd>{f.countryName}</dd>
			</div>
			<div>
				<dt>Mail comes from</dt>
				<dd>{f.mailFrom}</dd>
			</div>
			<div>
				<dt>Phone</dt>
				<dd>{f.phone || 'not given yet'}</dd>
			</div>
			<div>
				<dt>Currency</dt>
				<dd>{f.currencyName}</dd>
			</div>
			<div>
				<dt>Clients read</dt>
				<dd>{LANGUAGES[f.clientLanguage]}, unless they choose otherwise</dd>
			</div>
		</dl>
	{/snippet}
	{#snippet fields(wrong: Record<string, string>)}
		<div class="grid gap-3 sm:grid-cols-2">
			<label class="field"><span>Name of the firm</span><input name="name" value={f.name} maxlength="200" /></label>
			<label class="field"><span>Mail comes from</span><input name="mailFrom" type="email" value={f.mailFrom} /></label>
			<label class="field"><span>Phone, for clients</span><input name="phone" type="tel" autocomplete="off" value={f.phone} maxlength="40" /></label>
			<label class="field"
				><span>Clients read, unless they choose otherwise</span><select name="clientLanguage" value={f.clientLanguage}
					>{#each LANGUAGE_CODES as code (code)}<option value={code} lang={code}>{LANGUAGES[code]}</option>{/each}</select
				></label
			>
			<label class="field"><span>Address</span><textarea name="address" rows="3" maxlength="300">{f.address}</textarea></label>
			<label class="field"
				><span>Country</span><select name="country"
					>{#each data.choices.countries as c (c.code)}<option value={c.code} selected={c.code === f.country}>{c.name}</option>{/each}</select
				></label
			>
			<label class="field"
				><span>Currency of amounts that are asked for</span><select name="currency" value={f.currency === f.countryCurrency ? '' : f.currency}
					><option value="">that of the country</option>{#each data.choices.currencies as c (c.code)}<option value={c.code}>{c.name}</option
						>{/each}</select
				></label
			>
			<FieldProblem id="p-firm-phone" message={wrong.phone} />
		</div>
	{/snippet}
</FirmSettings>
