<script lang="ts">
	import { onMount } from 'svelte';
	import { proposedZone } from '$lib/core/firms/time-zones';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import LanternMark from '$lib/ui/desk/LanternMark.svelte';

	let { data, form } = $props();
	const problem = $derived(form?.problem);
	const typed = $derived(problem?.values ?? {});
	// svelte-ignore state_referenced_locally
	let timeZone = $state(form?.problem?.values.timeZone ?? '');
	// svelte-ignore state_referenced_locally
	let country = $state(form?.problem?.values.country ?? '');
	onMount(() => {
		if (!timeZone) timeZone = proposedZone(country, Intl.DateTimeFormat().resolvedOptions().timeZone);
	});
</script>

<svelte:head><title>Set up the firm</title></svelte:head>
<main class="mx-auto max-w-xl px-6 py-12">
	<LanternMark />
	<h1 class="mt-3 text-3xl">Set up the firm</h1>
	<p class="mt-1 text-(--half)">Five answers are enough to begin. Everything else is asked where it is first needed.</p>
	<form method="post" class="mt-6 space-y-4">
		{#if problem}<p class="notice-wrong" role="alert">{problem.message}</p>{/if}
		<div>
			<label class="field"
				><span>Name of the firm</span><!-- svelte-ignore a11y_autofocus --><input
					name="firmName"
					value={typed.firmName ?? ''}
					autofocus
					required
					maxlength="200"
				/></label
			>
			<FieldProblem id="p-firm" message={problem?.fields.firmName} />
		</div>
		<div class="grid gap-4 sm:grid-cols-2">
			<label class="field"
				><span>Country</span><select name="country" required bind:value={country} onchange={() => (timeZone = proposedZone(country, timeZone))}
					><option value="">choose …</option>{#each data.countries as one (one.code)}<option value={one.code}>{one.name}</option>{/each}</select
				></label
			>
			<label class="field"
				><span>Time zone</span><select name="timeZone" required bind:value={timeZone}
					>{#each data.timeZones as zone (zone)}<option value={zone}>{zone.replaceAll('_', ' ')}</option>{/each}</select
				></label
			>
		</div>
		<fieldset class="space-y-4 border-t border-(--rule-strong) pt-3">
			<legend class="serif pr-2 text-[0.98rem] font-semibold">You, the first administrator</legend>
			<div class="grid gap-4 sm:grid-cols-2">
				<div>
					<label class="field"
						><span>Your name</span><input name="name" value={typed.name ?? ''} autocomplete="name" required maxlength="200" /></label
					>
					<FieldProblem id="p-name" message={problem?.fields.name} />
				</div>
				<div>
					<label class="field"
						><span>E-mail address</span><input name="email" type="email" value={typed.email ?? ''} autocomplete="username" required /></label
					>
					<FieldProblem id="p-email" message={problem?.fields.email} />
				</div>
			</div>
			<div>
				<label class="field"
					><span>Password, at least 12 characters</span><input
						name="password"
						type="password"
						autocomplete="new-password"
						required
						maxlength="300"
					/></label
				>
				<FieldProblem id="p-password" message={problem?.fields.password} />
			</div>
		</fieldset>
		<div>
			<label class="field"
				><span>Code from the server’s log</span><input
					name="code"
					value={typed.code ?? data.code}
					autocomplete="off"
					required
					aria-describedby="code-hint p-code"
				/></label
			>
			<p id="code-hint" class="mt-1 text-xs text-(--half)">It shows that you may set this server up. The log names an address that holds it.</p>
			<FieldProblem id="p-code" message={problem?.fields.code} />
		</div>
		<button class="act w-full">Set up the firm</button>
	</form>
</main>
