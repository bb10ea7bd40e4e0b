<script lang="ts">
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';
	import CopyText from '$lib/ui/forms/CopyText.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import ToldDevices from '$lib/ui/telling/ToldDevices.svelte';
	import TellingForm from '$lib/ui/telling/TellingForm.svelte';

	import { say } from '$lib/words/words';

	let { data } = $props();
	let problem = $state('');
	let said = $state('');
	const handling = { onProblem: (what: { message: string }) => (problem = what.message), onSuccess: () => void (problem = said = '') };
</script>

<svelte:head><title>What you are told · {data.firm.name}</title></svelte:head>

<WholeSheet>
	<div class="told">
		<div>
			<h1 class="text-[1.65rem] leading-tight">What you are told</h1>
			<p class="mt-1 max-w-[44rem] text-[0.9rem] text-(--half)">
				By e-mail to {data.email}: what clients do, and what waits. Rounds shows it all, whatever you choose here. What happens one after another is
				told together, at most every quarter of an hour.
			</p>
			<div class="mt-4 max-w-[46rem]">
				{#key data.own}<TellingForm
						telling={data.telling}
						kinds={data.kinds}
						words={{ mine: 'those I look after', all: 'all that I may see' }}
						action="?/save"
						label="How you are told"
						saved="Saved. From now on you are told like this."
						bind:said
					/>{/key}
				{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
				{#if data.own}<form method="post" action="?/usual" class="mt-3 text-sm" {@attach enhancedForm(handling)}>
						You chose this yourself. <button class="act-link">Be told as is usual in the firm</button>
					</form>
				{:else}<p class="mt-3 text-sm text-(--half)">This is how the firm usually tells its people, until you choose for yourself.</p>{/if}
				{#if data.clients.length > 0}<h2 class="mt-6 text-[1.1rem]">Single clients</h2>
					<ul class="mt-1 text-[0.9rem]">
						{#each data.clients as client (client.id)}<li class="flex flex-wrap items-baseline gap-x-3 border-b border-(--rule) py-1.5">
								<a class="act-link font-semibold" href="/desk/clients/{client.id}">{client.name}</a>
								<span>{client.told ? 'you are e-mailed about it as well' : 'you are not e-mailed about it'}</span>
								<form method="post" action="?/client" class="ml-auto" {@attach enhancedForm(handling)}>
									<input type="hidden" name="clientId" value={client.id} />
									<button class="act-link text-sm" aria-label="Like other clients: {client.name}">Like other clients</button>
								</form>
							</li>{/each}
					</ul>{/if}
				{#if data.devices}<section class="mt-6 text-[0.9rem]" aria-labelledby="devices">
						<h2 id="devices" class="text-[1.1rem]">{say('en', 'device.title')}</h2>
						<ToldDevices devices={data.devices} locale="en" text={say('en', 'device.text.staff')} />
					</section>{/if}
				<h2 class="mt-6 text-[1.1rem]">In your calendar</h2>
				<p class="mt-1 text-[0.9rem] text-(--half)">
					Due dates, calls and the last days of letters, of the same clients, in the calendar you use anyway: add the address there as one to
					subscribe to. Whoever has the address can read it, so keep it to yourself.
				</p>
				{#if data.feed}<div class="mt-2"><CopyText label="Address of your calendar" text={data.feed} /></div>{/if}
				<div class="mt-2 flex flex-wrap items-center gap-4 text-sm">
					<form method="post" action="?/makeFeed" {@attach enhancedForm(handling)}>
						<button class={data.feed ? 'act-link' : 'act-quiet'}>{data.feed ? 'Make another address; this one ends' : 'Make an address'}</button>
					</form>
					{#if data.feed}<form method="post" action="?/endFeed" {@attach enhancedForm(handling)}>
							<button class="act-link">End this address</button>
						</form>{/if}
				</div>
			</div>
		</div>
		<aside aria-labelledby="next-summary">
			<h2 id="next-summary" class="text-[1.1rem]">
				{data.telling.summary === 'none' ? 'A summary would say' : 'The next summary'}
			</h2>
			<p class="text-sm text-(--half)">
				{#if data.telling.summary === 'none'}You get none. This is what the last 24 hours would have given.
				{:else if data.next}It goes {data.next}. If it went now, it would say this.
				{:else}None goes within three weeks: the calendar has no business day.{/if}
			</p>
			{#if data.summary}<div class="letter">
					<p class="font-semibold">{data.summary.subject}</p>
					<p class="mt-2">{data.summary.intro}</p>
					{#each data.summary.lists as list, n (n)}
						<h3 class="mt-3 text-[0.95rem]">{list.heading}</h3>
						<ul>
							{#each list.lines as line, m (m)}<li class="wrap-anywhere">
									{#if line.path}<a class="inline-block min-h-6" href={line.path}>{line.text}</a>{:else}{line.text}{/if}
								</li>{/each}
						</ul>
					{/each}
				</div>
			{:else}<p class="letter">Nothing has happened and nothing waits: no mail would go.</p>{/if}
		</aside>
	</div>
</WholeSheet>

<style>
	.told {
		display: grid;
		grid-template-columns: minmax(0, 1fr) minmax(18rem, 26rem);
		gap: 28px 40px;
	}
	.letter {
		margin-top: 8px;
		border: 1px solid var(--rule-strong);
		background: var(--leaf);
		padding: 14px 16px;
		font-size: 0.9rem;
	}
	.letter li {
		display: flex;
		gap: 7px;
		padding: 1px 0;
	}
	.letter li::before {
		content: '–';
	}
	@media (max-width: 980px) {
		.told {
			grid-template-columns: minmax(0, 1fr);
		}
	}
</style>
