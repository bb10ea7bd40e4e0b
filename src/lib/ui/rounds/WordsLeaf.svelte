<script lang="ts">
	import { page } from '$app/state';
	import { leafKeys } from '../desk/leaf-keys';
	import Talk from '../talk/Talk.svelte';
	import type { LeafProps } from './leaf-props';

	let { leaf, mine, openNext, remember }: LeafProps<'words'> = $props();
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">{leaf.talk.contactName} wrote to you</h2>
		<p class="text-sm text-(--half)">
			<a class="underline decoration-dotted" href="/desk/clients/{leaf.talk.clientId}">{leaf.talk.clientName}</a>, about nothing that was asked in
			particular
		</p>
	</header>
	<Talk
		talk={leaf.talk}
		words={leaf.words}
		unseen={leaf.unseen}
		notes={leaf.notes}
		colleagues={leaf.colleagues}
		mayNote={mine('keep_record')}
		timeZone={page.data.firm.timeZone}
		mayWrite={mine('judge_item')}
		begin={remember}
		sent={openNext}
	/>
	<p class="text-xs text-(--half)">Nobody reminds them until you have answered, for three business days at most.</p>
</div>
