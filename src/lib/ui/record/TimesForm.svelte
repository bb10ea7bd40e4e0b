<script lang="ts">
	import type { TheirTimes } from '$lib/core/calendar/their-times';
	import { enhancedForm } from '../forms/enhanced-form';
	import TimesFields from '../forms/TimesFields.svelte';

	/** When one person of a client is written to by itself, as the firm knows it. */
	let {
		clientId,
		contact,
		asRead,
		zones,
		firm,
		done
	}: {
		clientId: string;
		contact: { id: string; name: string; times: TheirTimes | null };
		/** what stood there when it was read */ asRead: string;
		zones: readonly string[];
		firm: { timeZone: string; sendFrom: string; sendTo: string; perWeek: number };
		done: () => void;
	} = $props();
	let pending = $state(false);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let stands = $state<string>();
</script>

<form
	method="post"
	action="/desk/clients/{clientId}?/changeTimes"
	class="border-t border-(--rule) py-3"
	aria-label="When {contact.name} is written to"
	{@attach enhancedForm({
		onPending: (p) => (pending = p),
		onProblem: (p) => {
			problem = p.message;
			fields = p.fields;
			stands = p.stands ?? stands;
		},
		onSuccess: done
	})}
>
	<h3 class="text-[1rem]">When {contact.name.split(' ')[0]} is written to</h3>
	<p class="mt-1 mb-3 text-[0.86rem] text-(--half)">
		For what goes by itself: reminders, and what is announced. It goes when the firm’s hours, {firm.sendFrom} to {firm.sendTo}, and these allow it.
		What one of us sends goes at once. {contact.name.split(' ')[0]} can change it too, in the portal.
	</p>
	{#if problem && Object.keys(fields).length === 0}<p class="notice-wrong mb-3" role="alert">{problem}</p>{/if}
	<input type="hidden" name="contactId" value={contact.id} />
	<TimesFields
		times={contact.times}
		{asRead}
		{stands}
		{zones}
		{firm}
		locale="en"
		words={{
			zone: 'Time zone they are in',
			asFirm: (place) => `as the firm, ${place}`,
			from: 'Not before',
			to: 'Not after',
			empty: 'On their clock. Without times: as the firm writes, on their clock.',
			quiet: 'Not on',
			week: 'Reminders in a week, at most',
			weekAsFirm: (count) => `as the firm: ${count}`
		}}
		{fields}
		problemIds="times-{contact.id}"
	/>
	<button class="act-quiet mt-3" disabled={pending}>Save the times</button>
</form>
