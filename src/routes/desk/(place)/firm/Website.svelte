<script lang="ts">
	import { websiteButton } from '$lib/core/firms/website-button';
	import CopyText from '$lib/ui/forms/CopyText.svelte';
	import type { PageData } from './$types';

	/** What the firm puts on its own website. */
	let { data }: { data: PageData } = $props();
	const f = $derived(data.details);
	const signIn = $derived(`${data.origin}/portal/${f.slug}/sign-in`);
	const button = $derived(websiteButton(f.name, signIn, f.color));
</script>

<section class="md:col-span-2">
	<h2 class="text-[1.05rem]">For your own website</h2>
	<p class="mt-1 text-sm text-(--half)">
		A link and a button that lead your clients to their sign-in. Both go on working when the short name in the portal’s address changes.
	</p>
	<div class="mt-3 space-y-3">
		<CopyText label="Link" text={signIn} />
		<div>
			<CopyText label="Button, as HTML" text={button} />
			<p class="mt-2 text-sm text-(--half)">
				It looks like this:
				<a
					href={signIn}
					class="ml-2 inline-block rounded-md px-[22px] py-3 text-base leading-tight font-semibold text-white no-underline"
					style="background: {f.color}">Sign in to {f.name}</a
				>
			</p>
		</div>
	</div>
</section>
