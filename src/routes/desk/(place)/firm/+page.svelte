<script lang="ts">
	import Areas from './Areas.svelte';
	import Brand from './Brand.svelte';
	import Chasing from './Chasing.svelte';
	import Details from './Details.svelte';
	import Holidays from './Holidays.svelte';
	import Hours from './Hours.svelte';
	import Services from './Services.svelte';
	import Website from './Website.svelte';

	let { data } = $props();
</script>

<svelte:head><title>Firm · {data.firm.name}</title></svelte:head>
<main id="sheet" class="sheet" tabindex="-1">
	<div class="max-w-4xl px-4 py-5 md:pl-[104px]">
		<h1 class="text-[1.65rem] leading-tight">{data.details.name}</h1>
		<p class="mt-1 text-[0.9rem] text-(--half)">
			{data.maySetUp ? 'What is changed here takes effect at once.' : 'An administrator of the firm can change these settings.'}
		</p>
		<div class="mt-5 grid gap-x-10 gap-y-6 md:grid-cols-2">
			<Details {data} />
			<Brand {data} />
			<Areas {data} />
			<Hours {data} />
			<Holidays {data} />
			<Chasing {data} />
			<section>
				<div class="flex items-baseline justify-between gap-3">
					<h2 class="text-[1.05rem]">People</h2>
					{#if !data.practice}<a class="act-link text-sm" href="/desk/firm/people">People, roles and security</a>{/if}
				</div>
				{#if !data.practice}<p class="mt-1 text-sm"><a class="act-link" href="/desk/firm/told">What they are told by e-mail</a></p>{/if}
				<ul class="mt-2 text-sm">
					{#each data.staff as s (s.id)}<li class="flex justify-between border-b border-(--rule-strong) py-1.5">
							<span>{s.name}</span><span class="text-(--half)">{s.role}</span>
						</li>{/each}
				</ul>
			</section>
			<Services {data} />
			{#if data.maySetUp}<section>
					<h2 class="text-[1.05rem]">Papers</h2>
					<p class="mt-2 flex flex-wrap gap-x-5 text-sm">
						<a class="act-link" href="/desk/firm/retention">How long papers are kept</a>
						<a class="act-link" href="/desk/firm/kept-apart">Papers kept apart</a>
					</p>
				</section>{/if}
			<Website {data} />
			<section class="md:col-span-2">
				<h2 class="text-[1.05rem]">Seal for letters</h2>
				<p class="mt-2 text-sm">
					Signed letters are sealed with the firm’s own certificate. Whoever wants to check a seal needs the root certificate: <a
						class="act-link"
						href="/desk/firm/root-certificate"
						download>download it</a
					>.
				</p>
			</section>
		</div>
	</div>
</main>

<style>
	.sheet {
		background: linear-gradient(90deg, transparent 86px, var(--margin-line) 86px, var(--margin-line) 87px, transparent 87px) var(--sheet);
		min-height: calc(100dvh - 47px);
		outline: none;
	}
	@media (max-width: 767px) {
		.sheet {
			background: var(--sheet);
		}
	}
</style>
