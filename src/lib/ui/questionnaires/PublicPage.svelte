<script lang="ts">
	import { untrack } from 'svelte';
	import { nameInAddress } from '$lib/core/public-pages/public-page';
	import { copier } from '../forms/copier.svelte';
	import { enhancedForm } from '../forms/enhanced-form';
	import FieldProblem from '../forms/FieldProblem.svelte';

	/** Whether anybody may answer a questionnaire, at which address, and how it is shown on other websites. */
	let {
		page,
		at,
		name,
		mayKeep,
		answersAt
	}: {
		page: { name: string; sites: string[]; who: 'asked' | 'optional'; thanks: string; open: boolean; waiting: number; came: number } | null;
		/** what stands before the page's name in its address */ at: string;
		/** of the questionnaire */ name: string;
		mayKeep: boolean;
		/** where the answers are read */ answersAt: string;
	} = $props();
	let writing = $state(false);
	let pending = $state(false);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let sure = $state(false);
	const given = untrack(() => page);
	let address = $state(given?.name ?? nameInAddress(untrack(() => name)).slice(0, 40));
	let who = $state(given?.who ?? 'asked');
	let thanks = $state(given?.thanks ?? '');
	let sites = $state(given?.sites.join('\n') ?? '');
	const [link, frame] = [copier(), copier()];
	const whole = $derived(`${at}${page?.name}`);
	const snippet = $derived(
		`<iframe src="${whole}?shown=frame" title="${name.replaceAll('"', '')}" width="100%" height="760" style="border: 0"></iframe>`
	);
	const handling = {
		onPending: (begins: boolean) => (pending = begins),
		onProblem: (what: { message: string; fields: Record<string, string> }) => {
			problem = what.message;
			fields = what.fields;
		},
		onSuccess: () => {
			problem = '';
			fields = {};
			writing = sure = false;
		}
	};
</script>

<section class="mt-6 border-t border-(--rule-strong) pt-4" aria-labelledby="public-page">
	<h2 id="public-page" class="font-sans text-[1rem] font-semibold">Public page</h2>
	{#if page?.open}
		<div class="mt-2 space-y-2 text-[0.92rem]">
			<p>Anybody who has this address can answer. Nobody can change the questionnaire by it, or read what others answered.</p>
			<p class="address">
				<a class="min-w-0 break-all underline decoration-dotted" href={whole} target="_blank" rel="noopener">{whole}</a>
				<button type="button" class="act-quiet shrink-0" onclick={() => link.copy(whole)}>Copy the public address</button>
			</p>
			{#if link.copied}<p role="status" class="text-sm">Copied: anybody who has it can answer.</p>{/if}
			<p class="text-sm text-(--half)">
				{page.who === 'asked' ? 'Whoever answers says who they are.' : 'Whoever answers may stay unnamed.'}
				{page.came === 0 ? 'Nobody has answered yet.' : page.came === 1 ? 'One answer came' : `${page.came} answers came`}{page.came > 0
					? page.waiting > 0
						? `, ${page.waiting === 1 ? 'one waits' : `${page.waiting} wait`} in `
						: '.'
					: ''}{#if page.waiting > 0}<a class="act-link" href="/desk/rounds">Rounds</a>.{/if}
				<a class="act-link" href={answersAt}>Read the answers</a>
			</p>
			{#if page.sites.length > 0}
				<details class="text-sm">
					<summary class="act-link cursor-pointer">Show it on {page.sites.length === 1 ? 'your website' : 'your websites'}</summary>
					<p class="mt-1">{page.sites.join(', ')} may show it. Paste this into the page there:</p>
					<pre class="snippet">{snippet}</pre>
					<button type="button" class="act-quiet" onclick={() => frame.copy(snippet)}>Copy this</button>
					{#if frame.copied}<span role="status" class="ml-2">Copied.</span>{/if}
				</details>
			{/if}
		</div>
	{:else}
		<p class="mt-1 text-[0.92rem] text-(--half)">
			{page
				? 'It is closed: whoever has the address is told so.'
				: 'It is answered by clients who are asked. It can be opened to anybody, for an enquiry on your website or for feedback.'}
			{#if page && page.came > 0}<a class="act-link" href={answersAt}>Read the {page.came === 1 ? 'answer' : `${page.came} answers`}</a>{/if}
		</p>
	{/if}
	{#if mayKeep}
		{#if writing}
			{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
			<form method="post" action="?/openPublic" class="mt-3 max-w-2xl space-y-3" {@attach enhancedForm(handling)}>
				<label class="field"
					><span>Address</span><span class="prefixed"
						><span class="text-(--half)">{at}</span><input
							name="name"
							bind:value={address}
							maxlength="80"
							autocomplete="off"
							spellcheck="false"
							required
							aria-invalid={fields.name ? 'true' : undefined}
							aria-describedby={fields.name ? 'wrong-address' : undefined}
						/></span
					></label
				>
				<FieldProblem id="wrong-address" message={fields.name} />
				{#if page?.open && nameInAddress(address) !== page.name}<p class="text-sm text-(--lamp-deep)">
						The address of before ends with it: links to it lead nowhere.
					</p>{/if}
				<fieldset class="space-y-1 text-[0.95rem]">
					<legend class="field-label">Who answers</legend>
					<label class="flex items-center gap-2"
						><input type="radio" name="who" value="asked" bind:group={who} /> gives their name and e-mail address</label
					>
					<label class="flex items-center gap-2"><input type="radio" name="who" value="optional" bind:group={who} /> may stay unnamed</label>
				</fieldset>
				<label class="field"
					><span>Words of thanks, if not the usual ones</span><textarea name="thanks" rows="2" maxlength="600" bind:value={thanks}></textarea></label
				>
				<label class="field"
					><span>Websites that may show it in a frame, one in a line; none if you only give out the address</span><textarea
						name="sites"
						rows="2"
						bind:value={sites}
						placeholder="https://www.firm.example"
						aria-invalid={fields.sites ? 'true' : undefined}
						aria-describedby={fields.sites ? 'wrong-sites' : undefined}></textarea></label
				>
				<FieldProblem id="wrong-sites" message={fields.sites} />
				<div class="flex flex-wrap gap-3">
					<button class="act-quiet" disabled={pending}>{page?.open ? 'Save the public page' : 'Open it to anybody'}</button>
					<button type="button" class="act-link" onclick={() => (writing = false)}>Not now</button>
				</div>
			</form>
		{:else}
			<div class="mt-2 flex flex-wrap gap-x-5 gap-y-2 text-sm">
				<button type="button" class="act-link" onclick={() => (writing = true)}
					>{page?.open ? 'Change the public page …' : page ? 'Open it again …' : 'Open a public page …'}</button
				>
				{#if page?.open}
					{#if sure}<form method="post" action="?/closePublic" class="notice-lamp" {@attach enhancedForm(handling)}>
							Nobody can answer there any more; what came stays. <button class="act-quiet ml-2" disabled={pending}>Close it</button>
						</form>
					{:else}<button type="button" class="act-link" onclick={() => (sure = true)}>Close it …</button>{/if}
				{/if}
			</div>
		{/if}
	{/if}
</section>

<style>
	.address {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0.5rem 1rem;
	}
	.prefixed {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0.25rem;
		font-size: 0.9rem;
	}
	.prefixed input {
		flex: 1 1 12rem;
	}
	.snippet {
		margin: 0.35rem 0;
		padding: 0.5rem 0.7rem;
		border: 1px solid var(--rule-strong);
		white-space: pre-wrap;
		word-break: break-all;
		font-size: 0.82rem;
	}
</style>
