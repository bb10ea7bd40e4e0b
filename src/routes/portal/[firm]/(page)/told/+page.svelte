<script lang="ts">
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import ToldDevices from '$lib/ui/telling/ToldDevices.svelte';
	import TimesFields from '$lib/ui/forms/TimesFields.svelte';
	import { sayer } from '$lib/words/words';

	let { data } = $props();
	const say = $derived(sayer(data.locale));
	const firm = $derived(data.brand.name);
	const written = $derived(data.written);
	let pending = $state(false);
	let problem = $state<{ at: 'reminders' | 'way' | 'times'; message: string; fields: Record<string, string> } | null>(null);
	let saved = $state<'way' | 'times' | null>(null);
	let stands = $state<string>();
	const handling = (at: 'reminders' | 'way' | 'times') =>
		enhancedForm({
			onPending: (begins) => (pending = begins),
			onProblem: (p) => {
				problem = { at, message: p.message, fields: p.fields };
				stands = p.stands ?? stands;
				saved = null;
			},
			onSuccess: (done) => {
				problem = null;
				if (at === 'times') stands = String(done?.stands);
				saved = at === 'reminders' ? null : at;
			}
		});
	const ways = $derived(
		written.textsGo && written.phone && written.mayText
			? (['email', 'both', 'text'] as const)
			: written.channels === 'email'
				? []
				: (['email'] as const)
	);
</script>

<svelte:head><title>{say('writing.title', { firm })}</title></svelte:head>

<p><a class="act-link" href={data.home}>{say('portal.back')}</a></p>
<h1 class="mt-2 text-[1.65rem] leading-tight">{say('writing.title', { firm })}</h1>
<p class="mt-2">{say('writing.always')}</p>

<section class="mt-7" aria-labelledby="reminders">
	<h2 id="reminders" class="border-b border-(--rule-strong) pb-1 text-[1.1rem]">{say('writing.reminders')}</h2>
	{#if written.mailProblem === 'bounced'}<p class="notice-wrong mt-2">{say('writing.bounced', { email: written.email ?? '', firm })}</p>{/if}
	<p class="mt-2" role="status">{say(written.mailProblem === 'opted_out' ? 'writing.reminders.off' : 'writing.reminders.on')}</p>
	{#if problem?.at === 'reminders'}<p class="notice-wrong mt-2" role="alert">{problem.message}</p>{/if}
	<div class="mt-3 flex flex-wrap items-center gap-x-5 gap-y-2">
		{#if written.mailProblem === 'opted_out'}<form method="post" action="?/start" {@attach handling('reminders')}>
				<button class="act-quiet" disabled={pending}>{say('writing.reminders.start')}</button>
			</form>
		{:else}
			<a class="act-link" href="{data.home}/words#away">{say('writing.away')}</a>
			{#if written.mailProblem === null}<form method="post" action="?/stop" {@attach handling('reminders')}>
					<button class="act-link" disabled={pending}>{say('writing.reminders.stop')}</button>
				</form>{/if}
		{/if}
	</div>
</section>

{#if written.textsGo || written.channels !== 'email'}<section class="mt-8" aria-labelledby="how">
		<h2 id="how" class="border-b border-(--rule-strong) pb-1 text-[1.1rem]">{say('writing.how')}</h2>
		{#if written.textProblem === 'stopped'}<p class="mt-2 text-(--half)">{say('writing.how.stopped')}</p>
		{:else if written.textProblem === 'failed'}<p class="mt-2 text-(--half)">{say('writing.how.failed', { phone: written.phone ?? '', firm })}</p>
		{:else if !written.phone}<p class="mt-2 text-(--half)">{say('writing.how.noPhone', { firm })}</p>{/if}
		{#if ways.length > 0}<form
				method="post"
				action="?/way"
				class="mt-2"
				aria-labelledby="how"
				oninput={() => (saved = null)}
				{@attach handling('way')}
			>
				{#if problem?.at === 'way'}<p class="notice-wrong" role="alert">{problem.message}</p>{/if}
				{#each ways as way (way)}<label class="way"
						><input type="radio" name="channels" value={way} checked={written.channels === way} required /><span
							>{say(`writing.how.${way}`, { email: written.email ?? '', phone: written.phone ?? '' })}</span
						></label
					>{/each}
				{#if ways.length > 1}<p class="mt-1 text-[0.9rem] text-(--half)">{say('writing.how.number', { firm })}</p>{/if}
				<div class="mt-3 flex flex-wrap items-center gap-3">
					<button class="act-quiet" aria-label="{say('writing.save')}: {say('writing.how')}" disabled={pending}>{say('writing.save')}</button>
					<span role="status">{saved === 'way' ? say('writing.saved') : ''}</span>
				</div>
			</form>{/if}
	</section>{/if}

{#if data.devices}<section class="mt-8" aria-labelledby="devices">
		<h2 id="devices" class="border-b border-(--rule-strong) pb-1 text-[1.1rem]">{say('device.title')}</h2>
		<ToldDevices devices={data.devices} locale={data.locale} text={say('device.text.contact', { firm })} />
	</section>{/if}

<section class="mt-8" aria-labelledby="when">
	<h2 id="when" class="border-b border-(--rule-strong) pb-1 text-[1.1rem]">{say('writing.when')}</h2>
	<p class="mt-2 text-(--half)">{say('writing.when.text', { firm, from: data.hours.sendFrom, to: data.hours.sendTo })}</p>
	<form method="post" action="?/times" class="mt-3" aria-labelledby="when" oninput={() => (saved = null)} {@attach handling('times')}>
		{#if problem?.at === 'times' && Object.keys(problem.fields).length === 0}<p class="notice-wrong mb-3" role="alert">{problem.message}</p>{/if}
		<TimesFields
			times={written.times}
			asRead={written.asRead}
			{stands}
			zones={data.zones}
			firm={data.hours}
			locale={data.locale}
			words={{
				zone: say('writing.zone'),
				asFirm: (place) => say('writing.zone.firm', { firm, place }),
				from: say('writing.from'),
				to: say('writing.to'),
				empty: say('writing.empty', { firm }),
				quiet: say('writing.quiet'),
				week: say('writing.week'),
				weekAsFirm: (count) => say('writing.week.firm', { count }),
				device: (place) => say('writing.zone.device', { place })
			}}
			fields={problem?.at === 'times' ? problem.fields : {}}
			problemIds="times"
			offersDevice
		/>
		<div class="mt-4 flex flex-wrap items-center gap-3">
			<button class="act" aria-label="{say('writing.save')}: {say('writing.when')}" disabled={pending}>{say('writing.save')}</button>
			<span role="status">{saved === 'times' ? say('writing.saved') : ''}</span>
		</div>
	</form>
</section>

<style>
	.way {
		display: flex;
		min-height: 2.75rem;
		align-items: baseline;
		gap: 0.6rem;
		padding-block: 0.55rem;
		line-height: 1.35;
		overflow-wrap: anywhere;
	}
</style>
