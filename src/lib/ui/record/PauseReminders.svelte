<script lang="ts">
	import { tick } from 'svelte';
	import type { AwaitableThing, HeldReminders } from '$lib/server/chasing/holds';
	import { soonerInWords } from '$lib/core/chasing/sooner';
	import { addDays } from '$lib/core/calendar/firm-calendar';
	import { dateWords } from '$lib/words/dates';
	import SoonerChoice from '../desk/SoonerChoice.svelte';
	import { enhancedForm } from '../forms/enhanced-form';

	/** What holds the reminders of a client and its people just now, and the form to pause them. */
	let {
		clientId,
		people,
		holds,
		things,
		today,
		mayPause
	}: {
		clientId: string;
		people: readonly { id: string; name: string }[];
		holds: readonly HeldReminders[];
		/** what a pause could wait for */ things: readonly AwaitableThing[];
		/** of the firm */ today: string;
		mayPause: boolean;
	} = $props();
	let open = $state(false);
	let problem = $state('');
	let pending = $state(false);
	let opener = $state<HTMLButtonElement>();
	const whomOf = (hold: HeldReminders) =>
		hold.itemId ? `item ${hold.itemId}` : hold.requestId ? `request ${hold.requestId}` : (hold.contactId ?? '');
	/** "Mara Whitlock", "of “Lease”" */
	function nameOf({ contactId, itemId, requestId, title }: HeldReminders): string {
		if (itemId) return `of “${title}”`;
		if (requestId) return `of all in “${title}”`;
		return contactId === null ? 'everybody' : (people.find((one) => one.id === contactId)?.name ?? 'somebody');
	}
	const WHY = { replied: 'wrote to us', away: 'is away', paused: '' } as const;
	function why({ why: reason, reason: said, by, happened }: HeldReminders): string {
		if (reason === 'replied') return `, who ${WHY.replied}`;
		if (reason === 'away') return `, who ${WHY.away}${said ? ` (${said})` : ''}`;
		return `, paused by ${by}${said ? `: “${said}”` : ''}${happened ? ', and what that waited for has happened' : ''}`;
	}
	async function close() {
		open = false;
		problem = '';
		await tick();
		opener?.focus();
	}
	const handling = {
		onPending: (begins: boolean) => void (pending = begins),
		onProblem: (p: { message: string }) => void (problem = p.message),
		onSuccess: close
	};
</script>

{#each holds as hold (`${whomOf(hold)} ${hold.why}`)}<div>
		<b class="text-(--lamp-deep)"
			>No reminder before {dateWords('en', hold.until)}{hold.sooner && !hold.happened ? `, or sooner ${soonerInWords(hold.sooner)},` : ''}</b
		>
		{hold.title === null ? 'to ' : ''}{nameOf(hold)}<span class="text-(--half)">{why(hold)}</span>
		{#if mayPause}<form method="post" action="/desk/clients/{clientId}?/letRemindersGoOn" class="inline" {@attach enhancedForm(handling)}>
				<input type="hidden" name="whom" value={whomOf(hold)} />
				<button class="act-link" disabled={pending} aria-label="Remind {nameOf(hold)} again from now on">remind again now</button>
			</form>{/if}
	</div>{/each}
{#if mayPause}
	<p><button class="act-link" bind:this={opener} aria-expanded={open} onclick={() => (open ? close() : (open = true))}>Pause reminders …</button></p>
	{#if open}<form method="post" action="/desk/clients/{clientId}?/pauseReminders" class="my-2 space-y-2" {@attach enhancedForm(handling)}>
			{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
			<div class="flex flex-wrap gap-3">
				<label class="field"
					><span>Whom</span><select name="whom"
						><option value="">everybody of the client</option>{#each people as one (one.id)}<option value={one.id}>{one.name}</option>{/each}</select
					></label
				>
				<label class="field"><span>Reminders go again from</span><input type="date" name="until" min={addDays(today, 1)} required /></label>
				<SoonerChoice {things} />
			</div>
			<label class="field"><span>Why, for us alone</span><input name="reason" maxlength="300" required /></label>
			<p class="text-(--half)">
				Until then nobody is reminded; then one message says what is open. What has to be done first is reminded of all the same, and new requests,
				letters and codes go as always.
			</p>
			<div class="flex gap-3">
				<button class="act" disabled={pending}>Pause</button><button type="button" class="act-quiet" onclick={close}>Leave it</button>
			</div>
		</form>{/if}
{/if}
