<script lang="ts">
	import { CLIENT_MAY, CLIENT_MAY_WORDS } from '$lib/core/papers/folders';
	import { KEEP_YEARS, keepWords } from '$lib/core/papers/retention';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';

	let { data } = $props();
	const at = $derived(`/desk/clients/${data.client.id}/papers`);
	const mayShow = $derived(data.acts.includes('share_papers'));
	const mayFile = $derived(data.acts.includes('file_papers'));
	/** when papers end is the administrators’ to say */
	const mayEnd = $derived(data.acts.includes('set_up_firm'));
	let open = $state<string | null>(null);
	let whom = $state<'all' | 'some'>('all');
	let problem = $state('');
	let pending = $state(false);
	const handling = {
		onPending: (begins: boolean) => (pending = begins),
		onProblem: (what: { message: string }) => void (problem = what.message),
		onSuccess: () => {
			problem = '';
			open = null;
		}
	};
	const people = $derived(data.client.contacts);
	const names = (ids: readonly string[]) =>
		people
			.filter(({ id }) => ids.includes(id))
			.map(({ name }) => name)
			.join(', ');
	function toggle(folder: (typeof data.folders)[number]) {
		problem = '';
		open = open === folder.id ? null : folder.id;
		whom = folder.contactIds ? 'some' : 'all';
	}
</script>

<svelte:head><title>Folders of {data.client.name} · {data.firm.name}</title></svelte:head>

<main id="sheet" class="sheet choosing" tabindex="-1">
	<div class="masthead">
		<p class="text-sm"><a class="act-link" href={at}>Papers of {data.client.name}</a></p>
		<h1 class="text-[1.65rem] leading-tight">Folders</h1>
		<p class="max-w-[42rem] text-[0.88rem] text-(--half)">
			A paper is ours only until it is shown. A folder says who of the client may see what is shown in it, and whether they may add to it. A folder
			comes into being with the first paper in it{data.proposed.length > 0 ? `; proposed besides: ${data.proposed.join(', ')}` : ''}.
		</p>
	</div>
	{#if data.folders.length === 0}<p class="py-4 pr-4 pl-4 text-(--half) md:pl-[104px]">No folders yet. Choose one when you add papers.</p>{/if}
	<ul class="pl-4 md:pl-[104px]">
		{#each data.folders as folder (folder.id)}
			<li class="border-b border-(--rule) py-2 pr-4">
				<div class="flex flex-wrap items-baseline gap-x-4">
					<b>{folder.name}</b>
					<span class="text-[0.88rem] text-(--half)"
						>{folder.papers === 1 ? 'one paper' : `${folder.papers} papers`}; {CLIENT_MAY_WORDS[folder.clientMay]}{folder.contactIds &&
						folder.clientMay !== 'nothing'
							? `; only ${names(folder.contactIds) || 'nobody who is still there'}`
							: ''}{folder.keepYears === null ? '' : `; ${keepWords(folder.keepYears)}`}</span
					>
					{#if mayShow}<button class="act-link ml-auto text-sm" aria-expanded={open === folder.id} onclick={() => toggle(folder)}
							>Change <span class="sr">{folder.name}</span></button
						>{/if}
				</div>
				{#if open === folder.id}
					<form method="post" action="?/change" class="mt-2 max-w-[34rem] space-y-2 pb-2" {@attach enhancedForm(handling)}>
						<input type="hidden" name="folderId" value={folder.id} />
						{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
						<label class="field"><span>Name</span><input name="name" value={folder.name} maxlength="60" /></label>
						<label class="field"
							><span>In it</span><select name="clientMay" value={folder.clientMay}
								>{#each CLIENT_MAY as may (may)}<option value={may}>{CLIENT_MAY_WORDS[may]}</option>{/each}</select
							></label
						>
						<fieldset class="text-[0.9rem]">
							<legend class="field-label">For whom of the client</legend>
							<label class="mr-4"><input type="radio" name="whom" value="all" bind:group={whom} /> everybody</label>
							<label><input type="radio" name="whom" value="some" bind:group={whom} /> some of them</label>
							{#if whom === 'some'}<div class="mt-1 flex flex-wrap gap-x-4">
									{#each people as person (person.id)}<label
											><input type="checkbox" name="contactIds" value={person.id} checked={folder.contactIds?.includes(person.id)} />
											{person.name}</label
										>{/each}
								</div>{/if}
						</fieldset>
						{#if mayEnd}<label class="field"
								><span>Its papers are</span><select name="keepYears" value={folder.keepYears === null ? '' : String(folder.keepYears)}
									><option value="">{keepWords(null, 'kept as the firm keeps others')}</option>{#each KEEP_YEARS as years (years)}<option
											value={String(years)}>{keepWords(years)}</option
										>{/each}</select
								></label
							>{:else}<input type="hidden" name="keepYears" value={folder.keepYears ?? ''} />{/if}
						<div class="flex gap-3">
							<button class="act" disabled={pending}>Save</button>
							{#if folder.papers === 0 && mayFile}<button class="act-quiet" formaction="?/remove" disabled={pending}>Remove the folder</button>{/if}
							<button type="button" class="act-link" onclick={() => (open = null)}>Leave it</button>
						</div>
					</form>
				{/if}
			</li>
		{/each}
	</ul>
	<section class="py-5 pr-4 pl-4 md:pl-[104px]">
		<h2 class="text-[1.15rem]">Keeping everything</h2>
		{#if data.hold}<p class="mt-1 max-w-[42rem] text-[0.9rem]">
				Nothing of {data.client.name} is destroyed, however old it is: “{data.hold.reason}”, {data.hold.by}.
				{#if mayEnd}<a class="act-link" href="/desk/firm/retention">How long papers are kept</a>{/if}
			</p>
		{:else}
			<p class="mt-1 max-w-[42rem] text-[0.88rem] text-(--half)">
				Papers end as their folder says, or as the firm keeps others. In a dispute or an audit everything can be kept beyond that.
			</p>
			{#if mayEnd}<form method="post" action="?/hold" class="mt-2 flex max-w-[42rem] flex-wrap items-end gap-3" {@attach enhancedForm(handling)}>
					{#if problem && open === null}<p class="notice-wrong w-full" role="alert">{problem}</p>{/if}
					<label class="field grow"><span>Why everything is kept</span><input name="reason" maxlength="300" autocomplete="off" /></label>
					<button class="act-quiet" disabled={pending}>Keep everything</button>
				</form>{/if}
		{/if}
	</section>
</main>
