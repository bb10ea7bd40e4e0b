<script lang="ts">
	import { untrack } from 'svelte';
	import { afterBusinessDays } from '$lib/core/schedules/due-rule';
	import { newLine } from '$lib/core/requests/request-list';
	import SpecFields from '$lib/ui/asking/SpecFields.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';

	let { data } = $props();
	const given = untrack(() => data.form);
	let name = $state(given.name);
	let about = $state(given.about);
	let services = $state([...given.services]);
	let line = $state(
		newLine({
			key: given.id,
			kind: 'questionnaire',
			title: given.name,
			spec: structuredClone({ questions: given.questions, files: given.files, signed: false, ends: [] }),
			due: afterBusinessDays(0),
			dueOn: ''
		})
	);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	let saved = $state(false);
	let sure = $state(false);
	const { spec } = $derived(line);
	const payload = $derived(JSON.stringify({ name, about, services, questions: spec.questions, files: spec.files }));
	$effect(() => {
		void payload;
		saved = false;
	});
</script>

<svelte:head><title>{name} · {data.firm.name}</title></svelte:head>

<WholeSheet>
	<p class="text-sm"><a class="act-link" href="/desk/library/forms">Back to the Library</a></p>
	<h1 class="text-[1.65rem] leading-tight">{name || 'Untitled form'}</h1>
	<p class="mt-1 text-[0.9rem] text-(--half)">
		Changed {data.form.changedAt} by {data.form.changedBy}. What clients began with it stays as it was.
	</p>
	<div class="mt-5 grid gap-x-12 gap-y-6 lg:grid-cols-[minmax(0,1fr)_330px]">
		<fieldset disabled={!data.mayKeep} class="min-w-0">
			<legend class="mb-2 text-[1.05rem] font-semibold">Questions</legend>
			<SpecFields bind:line place={data.place} />
		</fieldset>
		<div class="space-y-3">
			{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
			<fieldset disabled={!data.mayKeep} class="space-y-3">
				<label class="field"
					><span>Name, as clients read it</span><input bind:value={name} maxlength="80" aria-invalid={fields.name ? 'true' : undefined} /></label
				>
				<FieldProblem id="form-name" message={fields.name} />
				<label class="field"><span>What it is for, below the name</span><textarea rows="2" bind:value={about} maxlength="300"></textarea></label>
				{#if data.services.length > 0}<fieldset class="text-sm">
						<legend class="field-label">Only for clients for whom we do; none chosen means everybody</legend>
						<div class="flex flex-wrap gap-x-4 gap-y-1">
							{#each data.services as service (service.id)}<label class="flex items-center gap-2"
									><input type="checkbox" value={service.id} bind:group={services} /> {service.name}</label
								>{/each}
						</div>
					</fieldset>{/if}
			</fieldset>
			{#if data.mayKeep}
				<form
					method="post"
					action="?/save"
					class="flex items-center gap-3"
					{@attach enhancedForm({
						onPending: (p) => (pending = p),
						onProblem: (p) => {
							problem = p.message;
							fields = p.fields;
						},
						onSuccess: () => {
							problem = '';
							fields = {};
							saved = true;
						}
					})}
				>
					<input type="hidden" name="form" value={payload} />
					<button class="act" disabled={pending}>Save the form</button>
					{#if saved}<span class="text-sm text-(--half)" role="status">Saved.</span>{/if}
				</form>
				{#if sure}
					<form method="post" action="?/remove" class="notice-lamp" {@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}>
						Clients no longer find it; what they sent stays. <button class="act-quiet ml-2">Remove it</button>
					</form>
				{:else}<button class="act-link text-sm" onclick={() => (sure = true)}>Remove it from the Library …</button>{/if}
			{/if}
		</div>
	</div>
</WholeSheet>
