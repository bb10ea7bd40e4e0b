<script lang="ts">
	import { deserialize } from '$app/forms';
	import { invalidateAll } from '$app/navigation';
	import { fitWithin, LOGO_MAX, logoSize, WELCOME_PICTURE_MAX } from '$lib/core/firms/logo';
	import type { FormProblem } from '$lib/web/form-errors';

	/** Chooses, changes and takes away a logo or a welcome picture. */
	let {
		what,
		picture,
		of,
		brandId = ''
	}: {
		what: 'logo' | 'welcome';
		/** address of the present one */ picture: string | null;
		/** whose it is, in words */ of: string;
		/** empty for the firm's own brand */ brandId?: string;
	} = $props();
	const max = $derived(what === 'logo' ? LOGO_MAX : WELCOME_PICTURE_MAX);
	const words = $derived(what === 'logo' ? 'logo' : 'welcome picture');
	let problem = $state('');
	let pending = $state(false);

	/** Draws the chosen picture anew: whatever a file may hold besides its picture stays behind. */
	async function redraw(file: File): Promise<Blob> {
		const address = URL.createObjectURL(file);
		try {
			const chosen = new Image();
			chosen.src = address;
			await chosen.decode();
			const natural = { width: chosen.naturalWidth, height: chosen.naturalHeight };
			const size = what === 'logo' ? logoSize(natural) : fitWithin(natural, max);
			const canvas = Object.assign(document.createElement('canvas'), size);
			canvas.getContext('2d')!.drawImage(chosen, 0, 0, size.width, size.height);
			return await new Promise((resolve, reject) =>
				canvas.toBlob(
					(blob) => (blob ? resolve(blob) : reject(new Error('the picture could not be drawn'))),
					what === 'logo' ? 'image/png' : 'image/jpeg',
					0.85
				)
			);
		} finally {
			URL.revokeObjectURL(address);
		}
	}

	async function send(action: 'addPicture' | 'removePicture', bytes?: Blob) {
		pending = true;
		problem = '';
		const body = new FormData();
		body.set('what', what);
		body.set('brandId', brandId);
		if (bytes) body.set('picture', bytes, 'picture');
		try {
			const answer = await fetch(`/desk/firm?/${action}`, { method: 'POST', body, headers: { 'x-sveltekit-action': 'true' } });
			const result = deserialize(await answer.text());
			if (result.type === 'failure') problem = (result.data as { problem: FormProblem }).problem.message;
			else if (result.type !== 'success') problem = `The ${words} did not arrive. The one before is still there; please try again.`;
			else await invalidateAll();
		} catch {
			problem = `The connection was lost. The ${words} is as it was; please try again.`;
		} finally {
			pending = false;
		}
	}

	async function choose(event: Event & { currentTarget: HTMLInputElement }) {
		const field = event.currentTarget;
		const file = field.files?.[0];
		if (!file) return;
		try {
			await send('addPicture', await redraw(file));
		} catch {
			problem = `${file.name} cannot be read as a picture. Please choose a ${what === 'logo' ? 'PNG or an SVG' : 'PNG or a JPEG'}.`;
		}
		field.value = '';
	}
</script>

<div class="mt-3 text-sm">
	{#if problem}<p class="notice-wrong mb-2" role="alert">{problem}</p>{/if}
	<div class="flex flex-wrap items-center gap-4">
		{#if picture}<img
				src={picture}
				alt="{what === 'logo' ? 'Logo' : 'Welcome picture'} of {of}"
				class="max-h-14 max-w-48 border border-(--rule-strong) bg-white object-contain p-1"
			/>{/if}
		<label class="field"
			><span
				>{picture ? `Another ${words}` : what === 'logo' ? 'Logo' : 'Picture beside the welcome'}, {what === 'logo' ? 'PNG or SVG' : 'PNG or JPEG'},
				drawn at most {max.width} by {max.height}</span
			><input type="file" accept={what === 'logo' ? 'image/png,image/svg+xml' : 'image/png,image/jpeg'} onchange={choose} disabled={pending} /></label
		>
		{#if picture}<button type="button" class="act-link" disabled={pending} onclick={() => send('removePicture')}>Remove the {words}</button>{/if}
	</div>
</div>
