<script lang="ts">
	import { untrack } from 'svelte';
	import { Node, type Editor } from '@tiptap/core';
	import { isPlainItemText, isSafeLink, itemTextOf, plainItemText, withoutEmptyEnd, type ItemText } from '$lib/core/requests/item-text';
	import type { AttachmentRow } from '$lib/server/attachments/attachments';
	import MarkButton from '../forms/MarkButton.svelte';
	import { makeRichEditor } from '../forms/rich-editor';

	/** The words of a line: emphasis, lists, links and pictures. What is plain is kept as plain words alone. */
	let {
		why = $bindable(),
		text = $bindable(),
		attachments = $bindable([]),
		files = $bindable({}),
		label
	}: {
		why: string;
		text: ItemText | null;
		/** ids of the files beside the line, where there are such; a picture is one of them */ attachments?: string[];
		files?: Record<string, AttachmentRow>;
		label: string;
	} = $props();
	let editor = $state.raw<Editor>();
	let marks = $state({ bold: false, italic: false, bullets: false, numbers: false, link: '' });
	let linking = $state<string | null>(null);
	let problem = $state('');
	let busy = $state(false);

	const Picture = Node.create({
		name: 'picture',
		group: 'block',
		atom: true,
		draggable: true,
		addAttributes: () => ({ id: { default: '' }, alt: { default: '' } }),
		// pictures come from the firm's files alone, never from what is pasted
		parseHTML: () => [],
		renderHTML: ({ node }) => ['img', { src: `/desk/attachments/${String(node.attrs.id)}`, alt: String(node.attrs.alt) }]
	});

	const attach = (element: HTMLElement) =>
		untrack(() => {
			const made = makeRichEditor(element, {
				content: structuredClone($state.snapshot(text)) ?? itemTextOf(why),
				kit: { heading: false, underline: false, link: { openOnClick: false, autolink: false, isAllowedUri: (url) => isSafeLink(url) } },
				nodes: [Picture],
				label,
				changed: (content) => {
					const document = withoutEmptyEnd(content as ItemText);
					why = plainItemText(document).slice(0, 2000);
					text = isPlainItemText(document) ? null : document;
				},
				moved: (current) => {
					marks = {
						bold: current.isActive('bold'),
						italic: current.isActive('italic'),
						bullets: current.isActive('bulletList'),
						numbers: current.isActive('orderedList'),
						link: String(current.getAttributes('link').href ?? '')
					};
				}
			});
			editor = made;
			return () => made.destroy();
		});
	function setLink() {
		const typed = (linking ?? '').trim();
		const href = typed && !/^[a-z]+:/i.test(typed) ? (typed.includes('@') ? `mailto:${typed}` : `https://${typed}`) : typed;
		if (href && !isSafeLink(href)) {
			problem = 'Write the whole address of a page, beginning with https://.';
			return;
		}
		problem = '';
		linking = null;
		const chain = editor!.chain().focus().extendMarkRange('link');
		if (!href) chain.unsetLink().run();
		else if (editor!.state.selection.empty && !marks.link)
			chain.insertContent({ type: 'text', text: href.replace(/^(https?:\/\/|mailto:)/, ''), marks: [{ type: 'link', attrs: { href } }] }).run();
		else chain.setLink({ href }).run();
	}
	async function addPicture(input: HTMLInputElement) {
		const file = input.files?.[0];
		input.value = '';
		if (!file) return;
		if (!file.type.startsWith('image/')) {
			problem = `${file.name} is no picture. Other files stand beside the line.`;
			return;
		}
		busy = true;
		problem = '';
		const answer = await fetch('/desk/attachments', {
			method: 'POST',
			body: file,
			headers: { 'content-type': 'application/octet-stream', 'x-file-name': encodeURIComponent(file.name.toWellFormed()) }
		}).catch(() => null);
		const body = answer && ((await answer.json().catch(() => null)) as (AttachmentRow & { message?: string }) | null);
		busy = false;
		if (!answer?.ok || !body) {
			problem = body?.message ?? `${file.name} did not arrive. Please try again.`;
			return;
		}
		files[body.id] = body;
		attachments.push(body.id);
		editor
			?.chain()
			.focus()
			.insertContent({ type: 'picture', attrs: { id: body.id, alt: body.name.replace(/\.\w+$/, '') } })
			.run();
	}
</script>

<div class="field">
	<span>{label}</span>
	<div class="border border-(--rule-strong) bg-(--sheet)">
		<div class="flex flex-wrap items-center gap-1 border-b border-(--rule-strong) p-1" role="toolbar" aria-label="Format the words">
			<MarkButton pressed={marks.bold} look="font-bold" run={() => editor?.chain().focus().toggleBold().run()}>Bold</MarkButton>
			<MarkButton pressed={marks.italic} look="italic" run={() => editor?.chain().focus().toggleItalic().run()}>Italic</MarkButton>
			<MarkButton pressed={marks.bullets} run={() => editor?.chain().focus().toggleBulletList().run()}>List</MarkButton>
			<MarkButton pressed={marks.numbers} run={() => editor?.chain().focus().toggleOrderedList().run()}>Steps</MarkButton>
			<MarkButton pressed={marks.link !== ''} expanded={linking !== null} run={() => (linking = linking === null ? marks.link : null)}
				>Link …</MarkButton
			>
			<label class="act-quiet relative !min-h-7 cursor-pointer"
				>{busy ? 'Adding …' : 'Picture …'}<input
					type="file"
					accept="image/*"
					class="absolute inset-0 cursor-pointer opacity-0"
					disabled={busy}
					onchange={(event) => void addPicture(event.currentTarget)}
				/></label
			>
		</div>
		{#if linking !== null}
			<div class="flex flex-wrap items-center gap-2 border-b border-(--rule-strong) p-1.5">
				<!-- svelte-ignore a11y_autofocus -->
				<input
					class="line-input !w-auto flex-1"
					type="text"
					inputmode="url"
					aria-label="Address of the page"
					placeholder="https://…"
					bind:value={linking}
					autofocus
					onkeydown={(event) => {
						if (event.key !== 'Enter') return;
						event.preventDefault();
						setLink();
					}}
				/>
				<button type="button" class="act-quiet !min-h-7" onclick={setLink}>{linking.trim() ? 'Set the link' : 'No link'}</button>
			</div>
		{/if}
		<div class="editor" {@attach attach}></div>
	</div>
	{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
</div>

<style>
	.editor :global(.ProseMirror) {
		min-height: 3.6rem;
		max-height: 22rem;
		overflow: auto;
		padding: 0.4rem 0.6rem;
		outline: none;
		white-space: pre-wrap;
		word-break: break-word;
	}
	.editor :global(.ProseMirror ul) {
		list-style: disc;
		padding-left: 1.3rem;
	}
	.editor :global(.ProseMirror ol) {
		list-style: decimal;
		padding-left: 1.5rem;
	}
	.editor :global(.ProseMirror a) {
		text-decoration: underline;
	}
	.editor :global(.ProseMirror img) {
		display: block;
		max-width: 100%;
		max-height: 16rem;
		margin: 0.4rem 0;
	}
	.editor:focus-within {
		box-shadow: inset 0 0 0 2px var(--act);
	}
</style>
