<script lang="ts">
	import { dateWords } from '$lib/words/dates';
	import { enhancedForm } from '$lib/ui/enhanced-form';

	let { data } = $props();
	const f = $derived(data.details);
	let problem = $state('');
	let service = $state('');
	const handling = {
		onProblem: (p: { message: string }) => (problem = p.message),
		onSuccess: () => {
			problem = '';
			service = '';
		}
	};
	const WEEK = ['', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
	const step = (n: number) =>
		n === 0 ? 'on the due date' : `${Math.abs(n)} business ${Math.abs(n) === 1 ? 'day' : 'days'} ${n < 0 ? 'before' : 'after'} the due date`;
</script>

<svelte:head><title>Firm · {data.firm.name}</title></svelte:head>
<main id="sheet" class="sheet" tabindex="-1">
	<div class="max-w-4xl px-4 py-5 md:pl-[104px]">
		<h1 class="text-[1.65rem] leading-tight">{f.name}</h1>
		<p class="mt-1 text-[0.9rem] text-(--half)">{f.address}. These settings are made when the firm is set up.</p>
		<div class="mt-5 grid gap-x-10 gap-y-6 md:grid-cols-2">
			<section>
				<h2 class="text-[1.05rem]">Portal and brand</h2>
				<dl class="facts mt-2">
					<div>
						<dt>Sign-in for clients</dt>
						<dd><a class="act-link break-all" href="/portal/{f.slug}/sign-in">{data.origin}/portal/{f.slug}</a></dd>
					</div>
					<div>
						<dt>Colour</dt>
						<dd>
							<span class="mr-2 inline-block h-4 w-8 border border-(--rule-strong) align-middle" style="background: {f.color}"></span>{f.color},
							contrast checked
						</dd>
					</div>
					<div>
						<dt>Mail comes from</dt>
						<dd>{f.mailFrom}</dd>
					</div>
				</dl>
			</section>
			<section>
				<h2 class="text-[1.05rem]">Calendar and sending hours</h2>
				<dl class="facts mt-2">
					<div>
						<dt>Time zone</dt>
						<dd>{f.calendar.timeZone}</dd>
					</div>
					<div>
						<dt>Business days</dt>
						<dd>{f.calendar.businessDays.map((d) => WEEK[d]).join(', ')}</dd>
					</div>
					<div>
						<dt>Sending hours</dt>
						<dd>{f.calendar.sendFrom} to {f.calendar.sendTo}</dd>
					</div>
					<div>
						<dt>Holidays</dt>
						<dd>{f.calendar.holidays.map((h) => dateWords('en', h, 'short')).join(', ') || 'none'}</dd>
					</div>
				</dl>
			</section>
			<section>
				<h2 class="text-[1.05rem]">Chase plan “{f.chasePlan.name}”</h2>
				<ol class="mt-2 text-sm">
					{#each f.chasePlan.steps as s, i (i)}<li class="border-b border-(--rule-strong) py-1.5">
							{i + 1}. {step(s.businessDaysFromDue)}, by e-mail
						</li>{/each}
					<li class="py-1.5 text-(--half)">Then it stops, and the client appears in Rounds.</li>
				</ol>
			</section>
			<section>
				<h2 class="text-[1.05rem]">People</h2>
				<ul class="mt-2 text-sm">
					{#each data.staff as s (s.id)}<li class="flex justify-between border-b border-(--rule-strong) py-1.5">
							<span>{s.name}</span><span class="text-(--half)">{s.role}</span>
						</li>{/each}
				</ul>
			</section>
			<section>
				<h2 class="text-[1.05rem]">Services</h2>
				<p class="mt-1 text-sm text-(--half)">What the firm does. An engagement says which of them a client has.</p>
				{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
				<ul class="mt-2 text-sm">
					{#each data.services as s (s.id)}<li class="flex items-baseline justify-between gap-3 border-b border-(--rule-strong) py-1.5">
							<span>{s.name}</span>
							<span class="ml-auto text-(--half)">{s.clients === 1 ? 'one client' : `${s.clients} clients`}</span>
							{#if data.maySetUp}<form method="post" action="?/endService" {@attach enhancedForm(handling)}>
									<input type="hidden" name="serviceId" value={s.id} /><button class="act-link" aria-label="Take {s.name} off the list"
										>Take off</button
									>
								</form>{/if}
						</li>{:else}<li class="py-1.5 text-(--half)">None yet.{data.maySetUp ? '' : ' An administrator makes the list.'}</li>{/each}
				</ul>
				{#if data.maySetUp}
					<form method="post" action="?/addService" class="mt-2 flex items-end gap-2" {@attach enhancedForm(handling)}>
						<label class="field flex-1"><span>Another service</span><input name="name" bind:value={service} maxlength="80" /></label>
						<button class="act-quiet">Add it</button>
					</form>
				{/if}
			</section>
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
