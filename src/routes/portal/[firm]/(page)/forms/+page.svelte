<script lang="ts">
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { sayer } from '$lib/words/words';

	let { data } = $props();
	const say = $derived(sayer(data.locale));
	let problem = $state('');
	let pending = $state(false);
</script>

<svelte:head><title>{say('forms.title')} · {data.brand.name}</title></svelte:head>

<p><a class="act-link" href={data.home}>← {say('portal.back')}</a></p>
<h1 class="mt-1 text-[1.65rem] leading-tight">{say('forms.title')}</h1>
<p class="mt-1 text-(--half)">{say('forms.lead')}</p>
{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
{#each data.clients as client (client.clientId)}
	<section class="mt-6" aria-label={client.clientName}>
		{#if data.clients.length > 1}<h2 class="pb-1 text-[1.15rem]">{client.clientName}</h2>{/if}
		<ul class="border-t border-(--rule-strong)">
			{#each client.forms as form (form.id)}<li class="border-b border-(--rule-strong)">
					<form method="post" action="?/begin" {@attach enhancedForm({ onPending: (p) => (pending = p), onProblem: (p) => (problem = p.message) })}>
						<input type="hidden" name="clientId" value={client.clientId} /><input type="hidden" name="formId" value={form.id} />
						<button class="begin" disabled={pending}
							><b>{form.name}</b>{#if form.about}<span class="block text-[0.92rem] text-(--half)">{form.about}</span>{/if}</button
						>
					</form>
				</li>{/each}
		</ul>
	</section>
{/each}

<style>
	.begin {
		width: 100%;
		min-height: 56px;
		padding: 0.6rem 0;
		text-align: left;
		cursor: pointer;
	}
	.begin b {
		color: var(--act);
		text-decoration: underline;
		text-underline-offset: 4px;
		text-decoration-thickness: 1px;
	}
</style>
