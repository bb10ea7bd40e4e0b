<script lang="ts">
	import type SignaturePad from 'signature_pad';
	import { strokesAsPath, type Signature } from '$lib/core/signing/signature';
	import { sayer } from '$lib/words/words';

	/** Where somebody agrees and signs, by their name or with finger, pen or mouse. */
	let {
		form,
		prefix = '',
		locale,
		personName,
		name = $bindable(personName),
		consent,
		alive,
		last = null,
		wrong = {}
	}: {
		/** id of the form it belongs to, where that is not around it */ form?: string;
		/** of the names of its fields */ prefix?: string;
		locale: string;
		personName: string;
		/** as it is written now */ name?: string;
		/** what is agreed to, in words */ consent: string;
		/** scripts run: it can be drawn */ alive: boolean;
		/** what they drew, or took a picture of, when they signed last */ last?: Signature | null;
		/** what is wrong with which field */ wrong?: Record<string, string>;
	} = $props();
	const say = $derived(sayer(locale));
	let method = $state<'typed' | 'drawn' | 'picture' | 'last'>('typed');
	let picture = $state<{ png: string; width: number; height: number } | null>(null);
	let unread = $state(false);
	const before = $derived(last && last.method !== 'typed' ? last : null);
	let pad: SignaturePad | undefined;
	let strokes = $state<[number, number][][]>([]);
	let size = { width: 340, height: 140 };
	const payload = $derived(
		JSON.stringify(
			method === 'last' && before
				? { ...before, name }
				: method === 'picture'
					? { method, name, ...picture }
					: method === 'drawn'
						? { method, name, width: size.width, height: size.height, strokes }
						: { method: 'typed', name }
		)
	);
	async function take(input: HTMLInputElement) {
		const [file] = input.files ?? [];
		if (!file) return;
		// only who has a picture needs it
		const { inkOf } = await import('./signature-picture');
		picture = await inkOf(file).catch(() => null);
		unread = picture === null;
		input.value = '';
	}

	function padOn(canvas: HTMLCanvasElement) {
		const ratio = Math.max(1, devicePixelRatio);
		size = { width: canvas.clientWidth, height: canvas.clientHeight };
		canvas.width = size.width * ratio;
		canvas.height = size.height * ratio;
		canvas.getContext('2d')!.scale(ratio, ratio);
		strokes = [];
		let left = false;
		// only who draws needs it
		void import('signature_pad').then(({ default: Pad }) => {
			if (left) return;
			const made = new Pad(canvas, { minWidth: 1, maxWidth: 2.4, penColor: '#1d2530' });
			made.addEventListener('endStroke', () => {
				strokes = made.toData().map((group) => group.points.map((p): [number, number] => [Math.round(p.x * 10) / 10, Math.round(p.y * 10) / 10]));
			});
			pad = made;
		});
		return () => {
			left = true;
			pad?.off();
			pad = undefined;
		};
	}
</script>

<label class="flex items-start gap-3 text-[1.02rem]"
	><input
		type="checkbox"
		name="{prefix}consent"
		value="yes"
		{form}
		class="mt-1 h-5 w-5"
		aria-invalid={wrong[`${prefix}consent`] ? 'true' : undefined}
	/>
	{consent}</label
>
{#if wrong[`${prefix}consent`]}<p class="field-problem">{wrong[`${prefix}consent`]}</p>{/if}
<div class="flex flex-wrap gap-2" class:invisible={!alive} role="group" aria-label={say('letter.place.signature')}>
	<button type="button" class="act-quiet flex-1" aria-pressed={method === 'typed'} onclick={() => (method = 'typed')}>{say('letter.type')}</button>
	<button type="button" class="act-quiet flex-1" aria-pressed={method === 'drawn'} onclick={() => (method = 'drawn')}>{say('letter.draw')}</button>
	<button type="button" class="act-quiet flex-1" aria-pressed={method === 'picture'} onclick={() => (method = 'picture')}
		>{say('letter.picture')}</button
	>
	{#if before}<button type="button" class="act-quiet flex-1" aria-pressed={method === 'last'} onclick={() => (method = 'last')}
			>{say('letter.last')}</button
		>{/if}
</div>
<label class="field"
	><span>{say('letter.name')}</span><input name="{prefix}name" {form} bind:value={name} autocomplete="name" maxlength="120" required /></label
>
{#if method === 'typed'}
	<p class="serif border-b-2 border-(--ink) px-2 pb-1 text-3xl font-normal break-words italic" aria-hidden="true">{name || ' '}</p>
{:else if method === 'last' && before}
	{#if before.method === 'drawn'}<svg
			class="h-[100px] max-w-full border-b-2 border-(--ink)"
			viewBox="0 0 {before.width} {before.height}"
			role="img"
			aria-label={say('letter.lastHere')}
			><path d={strokesAsPath(before.strokes)} fill="none" stroke="#1d2530" stroke-width="2" stroke-linecap="round" /></svg
		>{:else}<img
			class="max-h-[100px] max-w-full border-b-2 border-(--ink)"
			src="data:image/png;base64,{before.png}"
			alt={say('letter.lastHere')}
		/>{/if}
{:else if method === 'picture'}
	<div class="space-y-2">
		{#if picture}<img
				class="max-h-[100px] max-w-full border-b-2 border-(--ink)"
				src="data:image/png;base64,{picture.png}"
				alt={say('letter.pictureHere')}
			/>{/if}
		<label class="field"
			><span>{say('letter.pictureChoose')}</span><input
				type="file"
				accept="image/png,image/jpeg,image/webp"
				data-not-kept
				onchange={(event) => void take(event.currentTarget)}
			/></label
		>
		{#if unread}<p class="field-problem" role="alert">{say('letter.pictureNone')}</p>{/if}
	</div>
{:else}
	<div>
		<canvas class="h-[140px] w-full touch-none border border-(--rule-strong) bg-[#fffefb]" aria-label={say('letter.drawLabel')} {@attach padOn}
		></canvas>
		<div class="flex justify-between text-sm text-(--half)">
			<span class="pt-3">{say('letter.drawLabel')}</span><button
				type="button"
				class="act-link"
				onclick={() => {
					pad?.clear();
					strokes = [];
				}}>{say('letter.clear')}</button
			>
		</div>
	</div>
{/if}
{#if alive}<input type="hidden" name="{prefix}signature" {form} value={payload} />{/if}

<style>
	[aria-pressed='true'] {
		border-color: var(--act);
		box-shadow: inset 0 0 0 1px var(--act);
		font-weight: 700;
	}
</style>
