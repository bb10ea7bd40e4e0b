<script lang="ts">
	import { deserialize } from '$app/forms';
	import { invalidateAll } from '$app/navigation';
	import { LOGO_MAX, logoSize } from '$lib/core/firms/logo';
	import type { FormProblem } from '$lib/server/form-errors';

	let { logo, firmName }: { /** address of the present logo */ logo: string | null; firmName: string } = $props();
	let problem = $state('');
	let pending = $state(false);

	/** Draws the chosen picture anew: whatever a file may hold besides its picture stays behind. */
	async function redraw(file: File): Promise<Blob> {
		const address = URL.createObjectURL(file);
		try {
			const picture = new Image();
			picture.src = address;
			await picture.decode();
			const size = logoSize({ width: picture.naturalWidth, height: picture.naturalHeight });
			const canvas = Object.assign(document.createElement('canvas'), size);
			canvas.getContext('2d')!.drawImage(picture, 0, 0, size.width, size.height);
			return await new Promise((resolve, reject) =>
				canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('the picture could not be drawn'))), 'image/png')
			);
		} finally {
			URL.revokeObjectURL(address);
		}
	}

	async function send(action: 'logo' | 'removeLogo', png?: Blob) {
		pending = true;
		problem = '';
		const body = new FormData();
		if (png) body.set('logo', png, 'logo.png');
		try {
			const answer = await fetch(`/desk/firm?/${action}`, { method: 'POST', body, headers: { 'x-sveltekit-action': 'true' } });
			const result = deserialize(await answer.text());
			if (result.type === 'failure') problem = (result.data as { problem: FormProblem }).problem.message;
			else if (result.type !== 'success') problem = 'The logo did not arrive. The one before is still there; please try again.';
			else await invalidateAll();
		} catch {
			problem = 'The connection was lost. The logo is as it was; please try again.';
		} finally {
			pending = false;
		}
	}

	async function choose(event: Event & { currentTarget: HTMLInputElement }) {
		const field = event.currentTarget;
		const file = field.files?.[0];
		if (!file) return;
		try {
			await send('logo', await redraw(file));
		} catch {
			problem = `${file.name} cannot be read as a picture. Please choose a PNG or an SVG.`;
		}
		field.value = '';
	}
</script>

<div class="mt-3 text-sm">
	{#if problem}<p class="notice-wrong mb-2" role="alert">{problem}</p>{/if}
	<div class="flex flex-wrap items-center gap-4">
		{#if logo}<img src={logo} alt="Logo of {firmName}" class="max-h-14 max-w-48 border border-(--rule-strong) bg-white object-contain p-1" />{/if}
		<label class="field"
			><span>{logo ? 'Another logo' : 'Logo'}, PNG or SVG, drawn at most {LOGO_MAX.width} by {LOGO_MAX.height}</span><input
				type="file"
				accept="image/png,image/svg+xml"
				onchange={choose}
				disabled={pending}
			/></label
		>
		{#if logo}<button type="button" class="act-link" disabled={pending} onclick={() => send('removeLogo')}>Take the logo away</button>{/if}
	</div>
</div>
