<script lang="ts">
	import FirmSettings from '$lib/ui/firm/FirmSettings.svelte';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import BrandPreview from '$lib/ui/firm/BrandPreview.svelte';
	import PictureForm from '$lib/ui/firm/PictureForm.svelte';
	import type { PageData } from './$types';

	/** How the portal looks, and where it is. */
	let { data }: { data: PageData } = $props();
	const f = $derived(data.details);
	// svelte-ignore state_referenced_locally
	let color = $state(data.details.brandColor);
	// svelte-ignore state_referenced_locally
	let welcome = $state(data.details.welcome);
</script>

<FirmSettings title="Portal and brand" action="changeBrand" mayChange={data.maySetUp}>
	{#snippet shown()}
		<dl class="facts mt-2">
			<div>
				<dt>Sign-in for clients</dt>
				<dd><a class="act-link break-all" href="/portal/{f.slug}/sign-in">{data.origin}/portal/{f.slug}</a></dd>
			</div>
			<div>
				<dt>Colour</dt>
				<dd>
					<span class="mr-2 inline-block h-4 w-8 border border-(--rule-strong) align-middle" style="background: {f.color}"></span>{f.color ===
					f.brandColor
						? `${f.color}, contrast checked`
						: `${f.color}, the nearest shade of ${f.brandColor} that can be read`}
				</dd>
			</div>
			<div>
				<dt>Logo</dt>
				<dd>
					{#if f.logo}<img src={f.logo} alt="Logo of {f.name}" class="max-h-9 max-w-40 bg-white object-contain" />{:else}none; the name stands alone{/if}
				</dd>
			</div>
			<div>
				<dt>Welcome</dt>
				<dd>
					{f.welcome || 'none yet'}{f.welcomePicture ? ', with a picture' : ''}{f.welcomeVideo ? ', with a video' : ''}
				</dd>
			</div>
			<div>
				<dt>Further brands</dt>
				<dd>
					{data.brands.map((brand) => `${brand.name} (${brand.clients})`).join(', ') || 'none'}
					<a class="act-link ml-2" href="/desk/firm/brands">{data.maySetUp ? 'Add and change' : 'Look at them'}</a>
				</dd>
			</div>
		</dl>
	{/snippet}
	{#snippet beside()}<PictureForm what="logo" picture={f.logo} of={f.name} /><PictureForm
			what="welcome"
			picture={f.welcomePicture}
			of={f.name}
		/>{/snippet}
	{#snippet fields(wrong: Record<string, string>)}
		<div class="grid gap-3 sm:grid-cols-[auto_1fr_1fr]">
			<label class="field"
				><span>Colour</span><input
					type="color"
					value={/^#[0-9a-f]{6}$/i.test(color) ? color : '#4d5866'}
					class="!h-9 !w-14 !p-1"
					oninput={(event) => (color = event.currentTarget.value)}
				/></label
			>
			<div>
				<label class="field"><span>as written</span><input name="color" bind:value={color} maxlength="7" autocomplete="off" /></label>
				<FieldProblem id="p-color" message={wrong.color} />
			</div>
			<div>
				<label class="field"
					><span>Short name in the portal’s address</span><input name="shortName" value={f.slug} maxlength="61" autocomplete="off" /></label
				>
				<FieldProblem id="p-short" message={wrong.shortName} />
			</div>
		</div>
		<label class="field"
			><span>Welcome, shown where clients sign in and on their first page</span><textarea name="welcome" rows="2" maxlength="400" bind:value={welcome}
			></textarea></label
		>
		<label class="field"
			><span>Address of a welcome video, if there is one</span><input
				name="welcomeVideo"
				type="url"
				value={f.welcomeVideo}
				maxlength="400"
				placeholder="https://…"
			/></label
		>
		<FieldProblem id="p-video" message={wrong.welcomeVideo} />
		<p class="text-xs text-(--half)">Links with an earlier short name go on leading to the portal.</p>
		<BrandPreview name={f.name} {color} {welcome} address={f.address} logo={f.logo} />
	{/snippet}
</FirmSettings>
