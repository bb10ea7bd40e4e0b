<script lang="ts">
	import { greeted } from '$lib/core/letters/merge-fields';
	import { contrast, passingShade } from '$lib/core/firms/brand-color';
	import { sayer } from '$lib/words/words';

	let { name, color, welcome, address, logo }: { name: string; color: string; welcome: string; address: string; logo: string | null } = $props();
	const say = sayer('en');
	const right = $derived(/^#[0-9a-f]{6}$/i.test(color));
	const shade = $derived(right ? passingShade(color.toLowerCase()) : '#4d5866');
	const ratio = (hex: string) => contrast(hex, '#ffffff').toFixed(1);
</script>

{#snippet bar()}<p class="bar">
		{#if logo}<img src={logo} alt="" class="mr-2 inline-block max-h-5 max-w-20 rounded-sm bg-white object-contain p-0.5 align-middle" />{/if}{name}
	</p>{/snippet}

<p class="text-sm" aria-live="polite">
	{#if !right}Write the colour as # and six digits or letters from a to f.
	{:else if shade === color.toLowerCase()}White words on this colour have a contrast of {ratio(shade)} to 1; 4.5 are needed. It is used as it is.
	{:else}White words on {color} have a contrast of only {ratio(color.toLowerCase())} to 1; 4.5 are needed. The nearest shade that passes is used:
		<b>{shade}</b>, {ratio(shade)} to 1.{/if}
</p>
<div class="mt-3 grid gap-3 sm:grid-cols-2 lg:grid-cols-4" style="--brand: {shade}" aria-hidden="true">
	<figure>
		<figcaption>Signing in</figcaption>
		<div class="sample">
			{@render bar()}
			<div class="body">
				<p class="serif text-[0.95rem] font-semibold">{say('signIn.title')}</p>
				{#if welcome}<p class="mt-0.5 text-[0.7rem]">{welcome}</p>{/if}
				<span class="line"></span><span class="line"></span><span class="button">{say('signIn.act')}</span>
			</div>
		</div>
	</figure>
	<figure>
		<figcaption>A client’s page</figcaption>
		<div class="sample">
			{@render bar()}
			<div class="body">
				<p class="serif text-[0.95rem] font-semibold">{say('portal.greeting.morning', greeted('Mara'))}</p>
				<div class="next">
					<p class="text-[0.65rem] font-bold" style="color: var(--brand)">{say('portal.next', { date: 'Friday' })}</p>
					<p class="serif text-[0.8rem] font-semibold">Bank statements</p>
					<span class="button">{say('portal.act.paper')}</span>
				</div>
			</div>
		</div>
	</figure>
	<figure>
		<figcaption>A message</figcaption>
		<div class="sample">
			{@render bar()}
			<div class="body">
				<p class="text-[0.7rem]">{say('mail.greeting', greeted('Mara'))}</p>
				<p class="mt-1 text-[0.7rem]">{say('mail.chase.body.soon', { count: 1 })}</p>
				<span class="button" style="width: auto">{say('mail.chase.act')}</span>
			</div>
		</div>
	</figure>
	<figure>
		<figcaption>A letter</figcaption>
		<div class="sample" style="background: #fff">
			<div class="body">
				{#if logo}<img src={logo} alt="" class="mb-1 max-h-6 max-w-24 object-contain" />{/if}
				<p class="serif text-[0.9rem] font-semibold" style="color: var(--brand)">{name}</p>
				<p class="text-[0.6rem] text-[#4d5866]">{address}</p>
				<p style="border-top: 1.5px solid var(--brand)" class="mt-1 pt-2 text-[0.65rem]">Engagement letter</p>
				<span class="words"></span><span class="words"></span><span class="words" style="width: 60%"></span>
			</div>
		</div>
	</figure>
</div>

<style>
	figcaption {
		font-size: 0.75rem;
		color: var(--half);
		margin-bottom: 0.2rem;
	}
	.sample {
		background: #f7f4ec;
		color: #1d2530;
		border: 1px solid var(--rule-strong);
		min-height: 9.5rem;
	}
	.bar {
		background: var(--brand);
		color: #fff;
		padding: 0.35rem 0.6rem;
		font-family: 'Source Serif 4 Variable', serif;
		font-weight: 600;
		font-size: 0.8rem;
	}
	.body {
		padding: 0.5rem 0.6rem 0.7rem;
	}
	.line {
		display: block;
		height: 0.9rem;
		margin-top: 0.35rem;
		background: #fffdf7;
		border: 1px solid #d8cdb5;
	}
	.words {
		display: block;
		height: 2px;
		margin-top: 0.45rem;
		background: #d8cdb5;
	}
	.button {
		display: inline-block;
		margin-top: 0.45rem;
		width: 100%;
		padding: 0.2rem 0.5rem;
		text-align: center;
		font-size: 0.7rem;
		font-weight: 600;
		color: #fff;
		background: var(--brand);
		border-radius: 4px;
	}
	.next {
		margin-top: 0.4rem;
		padding: 0.4rem 0.5rem 0.5rem;
		background: #fffefb;
		border: 1px solid #d8cdb5;
		border-top: 3px solid var(--brand);
	}
</style>
