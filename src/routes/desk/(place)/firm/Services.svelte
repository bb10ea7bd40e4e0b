<script lang="ts">
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import type { PageData } from './$types';

	/** What the firm does for its clients. */
	let { data }: { data: PageData } = $props();
	let problem = $state('');
	let service = $state('');
	const handling = {
		onProblem: (p: { message: string }) => (problem = p.message),
		onSuccess: () => {
			problem = '';
			service = '';
		}
	};
</script>

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
