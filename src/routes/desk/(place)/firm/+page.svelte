<script lang="ts">
	import { LANGUAGE_CODES, LANGUAGES } from '$lib/core/people/languages';
	import { websiteButton } from '$lib/core/firms/website-button';
	import { PORTAL_AREA_WORDS, PORTAL_AREAS } from '$lib/core/firms/portal-areas';
	import CopyText from '$lib/ui/forms/CopyText.svelte';
	import { dateWords } from '$lib/words/dates';
	import BrandPreview from '$lib/ui/firm/BrandPreview.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import PortalAreaChoice from '$lib/ui/firm/PortalAreaChoice.svelte';
	import PictureForm from '$lib/ui/firm/PictureForm.svelte';
	import FirmSettings from '$lib/ui/firm/FirmSettings.svelte';

	let { data } = $props();
	const f = $derived(data.details);
	// svelte-ignore state_referenced_locally
	let color = $state(data.details.brandColor);
	// svelte-ignore state_referenced_locally
	let welcome = $state(data.details.welcome);
	let problem = $state('');
	let holidayProblem = $state('');
	let service = $state('');
	const handling = {
		onProblem: (p: { message: string }) => (problem = p.message),
		onSuccess: () => {
			problem = '';
			service = '';
		}
	};
	const orList = new Intl.ListFormat('en', { type: 'disjunction' });
	const signIn = $derived(`${data.origin}/portal/${f.slug}/sign-in`);
	const button = $derived(websiteButton(f.name, signIn, f.color));
	const WEEK = ['', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
	const step = (n: number) =>
		n === 0 ? 'on the due date' : `${Math.abs(n)} business ${Math.abs(n) === 1 ? 'day' : 'days'} ${n < 0 ? 'before' : 'after'} the due date`;
</script>

{#snippet steps(name: string, words: string, days: number[], most: number)}
	<fieldset>
		<legend class="field-label">{words}</legend>
		<div class="flex flex-wrap gap-2">
			{#each Array.from({ length: Math.max(most, days.length) }, (_, i) => days[i] ?? '') as value, i (i)}<input
					{name}
					type="number"
					min={name === 'after' ? 0 : 1}
					max="60"
					{value}
					class="line-input !w-16"
					aria-label="{words}, {i + 1}"
				/>{/each}
		</div>
	</fieldset>
{/snippet}

<svelte:head><title>Firm · {data.firm.name}</title></svelte:head>
<main id="sheet" class="sheet" tabindex="-1">
	<div class="max-w-4xl px-4 py-5 md:pl-[104px]">
		<h1 class="text-[1.65rem] leading-tight">{f.name}</h1>
		<p class="mt-1 text-[0.9rem] text-(--half)">
			{data.maySetUp ? 'What is changed here takes effect at once.' : 'An administrator of the firm can change these settings.'}
		</p>
		<div class="mt-5 grid gap-x-10 gap-y-6 md:grid-cols-2">
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
						<label class="field"
							><span>Phone, for clients</span><input name="phone" type="tel" autocomplete="off" value={f.phone} maxlength="40" /></label
						>
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
								{#if f.logo}<img src={f.logo} alt="Logo of {f.name}" class="max-h-9 max-w-40 bg-white object-contain" />{:else}none; the name stands
									alone{/if}
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
						><span>Welcome, shown where clients sign in and on their first page</span><textarea
							name="welcome"
							rows="2"
							maxlength="400"
							bind:value={welcome}></textarea></label
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
			<FirmSettings title="What clients find on their page" action="changeAreas" mayChange={data.maySetUp}>
				{#snippet shown()}
					<ul class="mt-2 text-sm">
						<li class="border-b border-(--rule-strong) py-1.5">what is asked of them, always</li>
						{#each PORTAL_AREAS as area (area)}<li class="border-b border-(--rule-strong) py-1.5">
								{PORTAL_AREA_WORDS[area]}{#if data.areas.off.includes(area)}<b class="text-(--lamp-deep)">: nobody</b
									>{:else if data.areas.services[area]}<span class="text-(--half)"
										>: only with {orList.format(data.services.filter((s) => data.areas.services[area]?.includes(s.id)).map((s) => s.name))}</span
									>{/if}
							</li>{/each}
					</ul>
				{/snippet}
				{#snippet fields(wrong: Record<string, string>)}
					{#each PORTAL_AREAS as area (area)}
						<PortalAreaChoice
							{area}
							services={data.services}
							chosen={data.areas.services[area] ?? []}
							off={data.areas.off.includes(area)}
							problem={wrong[`for-${area}`]}
						/>
					{/each}
					<p class="text-xs text-(--half)">
						A part with nothing in it is not shown. Each client may be an exception: “Brand and welcome” in their record.
					</p>
				{/snippet}
			</FirmSettings>
			<FirmSettings title="Calendar and sending hours" action="changeHours" mayChange={data.maySetUp}>
				{#snippet shown()}
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
					</dl>
				{/snippet}
				{#snippet fields(wrong: Record<string, string>)}
					<div class="grid gap-3 sm:grid-cols-3">
						<label class="field"
							><span>Time zone</span><select name="timeZone"
								>{#each data.choices.timeZones as zone (zone)}<option value={zone} selected={zone === f.calendar.timeZone}
										>{zone.replaceAll('_', ' ')}</option
									>{/each}</select
							></label
						>
						<label class="field"><span>Messages go out from</span><input type="time" name="sendFrom" value={f.calendar.sendFrom} required /></label>
						<div>
							<label class="field"><span>until</span><input type="time" name="sendTo" value={f.calendar.sendTo} required /></label>
							<FieldProblem id="p-to" message={wrong.sendTo} />
						</div>
					</div>
					<fieldset>
						<legend class="field-label">Business days</legend>
						<div class="flex flex-wrap gap-x-4 gap-y-1 text-sm">
							{#each WEEK.slice(1) as day, i (day)}<label class="flex min-h-6 items-center gap-2"
									><input type="checkbox" name="businessDays" value={i + 1} checked={f.calendar.businessDays.includes(i + 1)} /> {day}</label
								>{/each}
						</div>
						<FieldProblem id="p-days" message={wrong.businessDays} />
					</fieldset>
					<p class="text-xs text-(--half)">All upcoming reminders are rescheduled to these hours.</p>
				{/snippet}
			</FirmSettings>
			<FirmSettings title="Holidays" action="addHoliday" mayChange={data.maySetUp} stays>
				{#snippet shown()}
					<ul class="mt-2 text-sm">
						{#each data.holidays as h (h.day)}<li class="flex justify-between gap-3 border-b border-(--rule-strong) py-1.5">
								<span>{h.name}</span><span class="whitespace-nowrap text-(--half)">{dateWords('en', h.day, 'withYear')}</span>
							</li>{:else}<li class="py-1.5 text-(--half)">None coming up: every business day is a working day.</li>{/each}
					</ul>
				{/snippet}
				{#snippet beside()}
					<ul class="mt-2 max-w-3xl text-sm">
						{#each data.holidays as h (h.day)}<li class="flex items-center gap-3 border-b border-(--rule-strong) py-1">
								<span class="flex-1">{h.name}</span><span class="whitespace-nowrap text-(--half)">{dateWords('en', h.day, 'withYear')}</span>
								<form method="post" action="?/removeHoliday" {@attach enhancedForm({ onProblem: (p) => (holidayProblem = p.message) })}>
									<input type="hidden" name="day" value={h.day} /><button class="act-link" aria-label="Remove {h.name}">Remove</button>
								</form>
							</li>{/each}
					</ul>
					<form
						method="post"
						action="?/importHolidays"
						enctype="multipart/form-data"
						class="mt-3 flex max-w-3xl flex-wrap items-end gap-3"
						{@attach enhancedForm({ onProblem: (p) => (holidayProblem = p.message), onSuccess: () => void (holidayProblem = '') })}
					>
						<label class="field"
							><span>A calendar of holidays (.ics)</span><input type="file" name="calendar" accept=".ics,text/calendar" required /></label
						>
						<button class="act-quiet">Add its holidays of the next three years</button>
						{#if holidayProblem}<p class="field-problem w-full" role="alert">{holidayProblem}</p>{/if}
					</form>
				{/snippet}
				{#snippet fields(wrong: Record<string, string>)}
					{#key data.holidays.length}<div class="grid gap-3 sm:grid-cols-[11rem_1fr]">
							<div>
								<label class="field"><span>Day</span><input type="date" name="day" required /></label>
								<FieldProblem id="h-day" message={wrong.day} />
							</div>
							<div>
								<label class="field"><span>Called</span><input name="name" maxlength="80" required /></label>
								<FieldProblem id="h-name" message={wrong.name} />
							</div>
						</div>{/key}
					<p class="text-xs text-(--half)">Nothing is sent on these days; reminders move around them.</p>
				{/snippet}
			</FirmSettings>
			<FirmSettings title="Reminders" action="changeChasing" mayChange={data.maySetUp}>
				{#snippet shown()}
					<ol class="mt-2 text-sm" aria-label="Chase plan “{f.chasePlan.name}”">
						{#each f.chasePlan.steps as s, i (i)}<li class="border-b border-(--rule-strong) py-1.5">
								{i + 1}. {step(s.businessDaysFromDue)}
							</li>{/each}
						<li class="border-b border-(--rule-strong) py-1.5 text-(--half)">Then it stops, and the client appears in Rounds.</li>
						<li class="border-b border-(--rule-strong) py-1.5">
							At most {f.pace.perWeek === 1 ? 'one reminder' : `${f.pace.perWeek} reminders`} a week to one person{f.pace.gapDays === 1
								? ''
								: f.pace.gapDays === 2
									? ', not on two days in a row'
									: `, ${f.pace.gapDays} days apart`}
						</li>
						<li class="py-1.5">Invitations: {data.reminders.invitation || 'no reminder'}</li>
					</ol>
				{/snippet}
				{#snippet fields(wrong: Record<string, string>)}
					<label class="field max-w-xs"><span>Name of the plan</span><input name="name" value={f.chasePlan.name} maxlength="80" /></label>
					<FieldProblem id="c-name" message={wrong.name} />
					{@render steps(
						'before',
						'Business days before the due date',
						f.chasePlan.steps.map((s) => -s.businessDaysFromDue).filter((n) => n > 0),
						3
					)}
					{@render steps(
						'after',
						'Business days after it; 0 is the day itself',
						f.chasePlan.steps.map((s) => s.businessDaysFromDue).filter((n) => n >= 0),
						6
					)}
					{@render steps('invitation', 'Business days after an invitation was sent', f.invitationSteps, 4)}
					<div class="grid max-w-md gap-3 sm:grid-cols-2">
						<label class="field"
							><span>Reminders to one person in a week, at most</span><input
								name="perWeek"
								type="number"
								min="1"
								max="7"
								value={f.pace.perWeek}
							/></label
						>
						<label class="field"
							><span>Days between two reminders, at least</span><input name="gapDays" type="number" min="1" max="14" value={f.pace.gapDays} /></label
						>
					</div>
					{#each Object.entries(wrong).filter( ([path]) => /^(steps|invitationSteps|gapDays|perWeek)/.test(path) ) as [path, message] (path)}<FieldProblem
							id="c-{path}"
							{message}
						/>{/each}
					<p class="text-xs text-(--half)">All upcoming reminders are rescheduled. What has gone out counts.</p>
				{/snippet}
			</FirmSettings>
			<FirmSettings title="Further chase plans" action="addPlan" mayChange={data.maySetUp} stays>
				{#snippet shown()}
					<p class="mt-1 text-sm text-(--half)">Chosen for a list, a client, or a single request; otherwise “{f.chasePlan.name}” holds.</p>
					<ul class="mt-2 text-sm">
						{#each f.furtherPlans as plan (plan.key)}<li class="flex items-baseline gap-3 border-b border-(--rule-strong) py-1.5">
								<b class="font-semibold">{plan.name}</b><span class="flex-1 text-(--half)">{plan.words}</span>
								{#if data.maySetUp}<form method="post" action="?/removePlan" {@attach enhancedForm(handling)}>
										<input type="hidden" name="key" value={plan.key} /><button class="act-link" aria-label="Remove the plan {plan.name}"
											>Remove</button
										>
									</form>{/if}
							</li>{:else}<li class="py-1.5 text-(--half)">None yet. “No reminders” can always be chosen.</li>{/each}
					</ul>
				{/snippet}
				{#snippet fields(wrong: Record<string, string>)}
					<label class="field max-w-xs"><span>Name of the plan</span><input name="name" maxlength="80" required /></label>
					<FieldProblem id="fp-name" message={wrong.name} />
					{@render steps('before', 'Business days before the due date', [], 3)}
					{@render steps('after', 'Business days after it; 0 is the day itself', [], 6)}
					<FieldProblem id="fp-steps" message={wrong.steps} />
				{/snippet}
			</FirmSettings>
			<section>
				<div class="flex items-baseline justify-between gap-3">
					<h2 class="text-[1.05rem]">People</h2>
					{#if !data.practice}<a class="act-link text-sm" href="/desk/firm/people">People, roles and security</a>{/if}
				</div>
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
									<input type="hidden" name="serviceId" value={s.id} /><button class="act-link" aria-label="Remove {s.name}">Remove</button>
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
				<h2 class="text-[1.05rem]">For your own website</h2>
				<p class="mt-1 text-sm text-(--half)">
					A link and a button that lead your clients to their sign-in. Both go on working when the short name in the portal’s address changes.
				</p>
				<div class="mt-3 space-y-3">
					<CopyText label="Link" text={signIn} />
					<div>
						<CopyText label="Button, as HTML" text={button} />
						<p class="mt-2 text-sm text-(--half)">
							It looks like this:
							<a
								href={signIn}
								class="ml-2 inline-block rounded-md px-[22px] py-3 text-base leading-tight font-semibold text-white no-underline"
								style="background: {f.color}">Sign in to {f.name}</a
							>
						</p>
					</div>
				</div>
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
