<script lang="ts">
	import type { MessageText } from '$lib/server/library/message-texts';
	import { untrack } from 'svelte';
	import { LANGUAGE_CODES, LANGUAGES } from '$lib/core/people/languages';
	import { MESSAGE_TEXT_KIND, MESSAGE_TEXT_KINDS } from '$lib/core/messages/message-texts';
	import { enhancedForm } from '../forms/enhanced-form';
	import FieldProblem from '../forms/FieldProblem.svelte';
	import WordsField from './WordsField.svelte';

	/** A text of the Library being written or changed. */
	let {
		text,
		version = null,
		action,
		groups,
		shelves,
		words,
		fixedKind = false
	}: {
		text: Pick<MessageText, 'kind' | 'language' | 'name' | 'folder' | 'tags' | 'subject' | 'body' | 'shared' | 'groupId'>;
		version?: number | null;
		action: string;
		groups: { id: string; name: string }[];
		shelves: { folders: string[]; tags: string[] };
		/** on the button */ words: string;
		/** what it is for stays */ fixedKind?: boolean;
	} = $props();
	let kind = $state(untrack(() => text.kind));
	let subject = $state(untrack(() => text.subject));
	let body = $state(untrack(() => text.body));
	let shared = $state(untrack(() => text.shared));
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	const about = $derived(MESSAGE_TEXT_KIND[kind]);
</script>

<form
	method="post"
	{action}
	class="space-y-3"
	{@attach enhancedForm({
		onPending: (p) => {
			pending = p;
			if (p) {
				problem = '';
				fields = {};
			}
		},
		onProblem: (p) => {
			problem = p.message;
			fields = p.fields;
		}
	})}
>
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	{#if version !== null}<input type="hidden" name="version" value={version} />{/if}
	<div class="grid gap-3 sm:grid-cols-2">
		<div>
			<label class="field"
				><span>What it is for</span>{#if fixedKind}<input type="hidden" name="kind" value={kind} /><input
						readonly
						value={about.words}
					/>{:else}<select name="kind" bind:value={kind}
						>{#each MESSAGE_TEXT_KINDS as k (k)}<option value={k}>{MESSAGE_TEXT_KIND[k].words}</option>{/each}</select
					>{/if}</label
			>
			<p class="mt-1 text-xs text-(--half)">{about.about}</p>
		</div>
		<div>
			<label class="field"
				><span>Name</span><input name="name" value={text.name} maxlength="80" aria-invalid={fields.name ? 'true' : undefined} /></label
			>
			<FieldProblem id="text-name" message={fields.name} />
		</div>
	</div>
	{#if about.subject}
		<WordsField name="subject" label="Subject" bind:value={subject} fields={about.fields} line problem={fields.subject} />
		<FieldProblem id="text-subject" message={fields.subject} />
	{/if}
	<WordsField name="body" label="Words" bind:value={body} fields={about.fields} rows={about.max > 1000 ? 8 : 3} problem={fields.body} />
	<FieldProblem id="text-body" message={fields.body} />
	<div class="grid gap-3 sm:grid-cols-2">
		<label class="field"><span>Folder</span><input name="folder" value={text.folder} maxlength="60" list="folders" autocomplete="off" /></label>
		<div>
			<label class="field"
				><span>Tags, with commas between</span><input
					name="tags"
					value={text.tags.join(', ')}
					maxlength="300"
					autocomplete="off"
					aria-invalid={fields.tags ? 'true' : undefined}
				/></label
			>
			<FieldProblem id="text-tags" message={fields.tags} />
		</div>
		<label class="field"
			><span>Language</span><select name="language" value={text.language}
				>{#each LANGUAGE_CODES as code (code)}<option value={code} lang={code}>{LANGUAGES[code]}</option>{/each}</select
			></label
		>
		<label class="field"
			><span>Shared with</span><select name="shared" bind:value={shared}>
				<option value="all">everybody of the firm</option>
				{#if groups.length > 0}<option value="group">a group</option>{/if}
				<option value="person">nobody, only me</option>
			</select></label
		>
		{#if shared === 'group'}<div>
				<label class="field"
					><span>Group</span><select name="groupId" value={text.groupId ?? groups[0]?.id}
						>{#each groups as group (group.id)}<option value={group.id}>{group.name}</option>{/each}</select
					></label
				>
				<FieldProblem id="text-group" message={fields.groupId} />
			</div>{/if}
	</div>
	<datalist id="folders"
		>{#each shelves.folders as folder (folder)}<option value={folder}></option>{/each}</datalist
	>
	<button class="act" disabled={pending}>{pending ? 'Saving …' : words}</button>
</form>
