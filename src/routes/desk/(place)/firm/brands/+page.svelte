<script lang="ts">
	import BrandPreview from '$lib/ui/firm/BrandPreview.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import PictureForm from '$lib/ui/firm/PictureForm.svelte';
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';

	let { data } = $props();
	type Brand = (typeof data.brands)[number];
	let open = $state<string | null>(null);
	let draft = $state({ name: '', color: '', welcome: '' });
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	function begin(brand: Brand | null) {
		open = brand?.id ?? 'new';
		draft = { name: brand?.name ?? '', color: brand?.color ?? data.own.color, welcome: brand?.welcome ?? '' };
		problem = '';
		fields = {};
	}
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string; fields: Record<string, string> }) => {
			problem = p.message;
			fields = p.fields;
		},
		close: () => (open = null)
	};
	const clients = (n: number) => (n === 0 ? 'no client sees it yet' : n === 1 ? 'one client sees it' : `${n} clients see it`);
</script>

<svelte:head><title>Brands · {data.firm.name}</title></svelte:head>

{#snippet form(brand: Brand | null)}
	{#if brand}
		<PictureForm what="logo" picture={brand.logo} of={brand.name} brandId={brand.id} />
		<PictureForm what="welcome" picture={brand.picture} of={brand.name} brandId={brand.id} />
	{/if}
	<form method="post" action="?/write" class="notice-lamp mt-3 space-y-3" {@attach enhancedForm(handling)}>
		{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
		{#if brand}<input type="hidden" name="brandId" value={brand.id} />{/if}
		<div class="grid gap-3 sm:grid-cols-[1fr_auto_9rem]">
			<div>
				<!-- svelte-ignore a11y_autofocus -->
				<label class="field"><span>Name that clients read</span><input name="name" bind:value={draft.name} maxlength="120" autofocus /></label>
				<FieldProblem id="b-name" message={fields.name} />
			</div>
			<label class="field"
				><span>Colour</span><input
					type="color"
					value={/^#[0-9a-f]{6}$/i.test(draft.color) ? draft.color : '#4d5866'}
					class="!h-9 !w-14 !p-1"
					oninput={(event) => (draft.color = event.currentTarget.value)}
				/></label
			>
			<div>
				<label class="field"><span>as written</span><input name="color" bind:value={draft.color} maxlength="7" autocomplete="off" /></label>
				<FieldProblem id="b-color" message={fields.color} />
			</div>
		</div>
		<label class="field"><span>Welcome</span><textarea name="welcome" rows="2" maxlength="400" bind:value={draft.welcome}></textarea></label>
		<label class="field"
			><span>Address of a welcome video, if there is one</span><input
				name="welcomeVideo"
				type="url"
				value={brand?.welcomeVideo}
				maxlength="400"
				placeholder="https://…"
			/></label
		>
		<FieldProblem id="b-video" message={fields.welcomeVideo} />
		<BrandPreview name={draft.name || 'Name'} color={draft.color} welcome={draft.welcome} address={data.address} logo={brand?.logo ?? null} />
		<div class="flex gap-2">
			<button class="act" disabled={pending}>{brand ? `Save ${brand.name}` : 'Add the brand'}</button>
			<button type="button" class="act-quiet" onclick={() => (open = null)}>Cancel</button>
		</div>
	</form>
{/snippet}

<WholeSheet>
	<p class="text-sm"><a class="act-link" href="/desk/firm">Firm</a></p>
	<div class="flex flex-wrap items-start justify-between gap-3">
		<h1 class="text-[1.65rem] leading-tight">Further brands</h1>
		{#if data.maySetUp && open === null}<button class="act" onclick={() => begin(null)}>Add a brand</button>{/if}
	</div>
	<p class="mt-1 max-w-3xl text-[0.9rem] text-(--half)">
		Some clients may know you under another name. Choose the brand in a client’s record: their page, messages and letters then carry it. All others
		see
		{data.own.name}. Who has clients of several brands sees {data.own.name} too.
	</p>
	{#if open === 'new'}<div class="max-w-4xl">{@render form(null)}</div>{/if}
	{#if data.brands.length === 0 && open === null}<p class="mt-6 text-(--half)">There is none yet.</p>{/if}
	<ul class="mt-4 max-w-4xl">
		{#each data.brands as brand (brand.id)}
			<li class="border-b border-(--rule) py-2">
				<div class="flex flex-wrap items-center gap-x-4 gap-y-1 text-[0.95rem]">
					<span class="inline-block h-5 w-8 border border-(--rule-strong)" style="background: {brand.shade}"></span>
					{#if brand.logo}<img src={brand.logo} alt="" class="max-h-7 max-w-24 bg-white object-contain" />{/if}
					<b>{brand.name}</b>
					<span class="min-w-0 flex-1 text-(--half)">{clients(brand.clients)}</span>
					{#if data.maySetUp}
						<button class="act-link" aria-label="Change {brand.name}" onclick={() => (open === brand.id ? (open = null) : begin(brand))}
							>Change …</button
						>
						<form method="post" action="?/end" {@attach enhancedForm(handling)}>
							<input type="hidden" name="brandId" value={brand.id} /><button
								class="act-link"
								aria-label="Delete {brand.name}: its clients see {data.own.name} again">Delete</button
							>
						</form>
					{/if}
				</div>
				{#if open === brand.id}{@render form(brand)}{/if}
			</li>
		{/each}
	</ul>
</WholeSheet>
