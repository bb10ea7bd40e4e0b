<script lang="ts">
	import { dateWords } from '$lib/words/dates';
	import { enhancedForm } from '../forms/enhanced-form';
	import { keepOnDevice } from '../forms/keep-on-device';
	import { leafKeys } from '../desk/leaf-keys';
	import type { LeafProps } from './leaf-props';
	import Tried from './Tried.svelte';

	let { leaf, mine, pending, problem, handling, time }: LeafProps<'call'> = $props();
	const call = $derived(leaf.call);
	const first = $derived(call.contactName.split(' ')[0]);
	let outcome = $state('reached');
	const HOW = [
		{ is: 'reached', words: 'Reached', then: 'Reminders go on with the next step of the plan.' },
		{ is: 'promised', words: 'Promised it until …', then: 'Nobody reminds them before the business day after it.' },
		{ is: 'not_reached', words: 'Not reached', then: 'The call comes back on the next business day.' },
		{ is: 'refused', words: 'Will not do it', then: 'Nobody reminds them of what is listed here any more. It stays open until somebody waives it.' }
	] as const;
	const SAID: Record<string, string> = { reached: 'reached', promised: 'promised', refused: 'will not do it', seen: 'seen by a partner' };
	const chosen = $derived(HOW.find(({ is }) => is === outcome)!);
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">{call.forPartner ? `Nothing has helped with ${call.contactName}` : `Call ${call.contactName}`}</h2>
		<p class="text-sm text-(--half)">
			<a class="underline decoration-dotted" href="/desk/clients/{call.clientId}">{call.clientName}</a> · looked after by {call.responsible}, since
			{time(call.madeAt)}
		</p>
	</header>
	<dl class="facts">
		<div>
			<dt>Telephone</dt>
			<dd>
				{#if call.phone}<a class="text-[1.15rem] font-semibold underline decoration-dotted underline-offset-2" href="tel:{call.phone}">{call.phone}</a
					>{:else}none is known{/if}
			</dd>
		</div>
		<div>
			<dt>E-mail</dt>
			<dd>{call.email ?? 'none is known'}</dd>
		</div>
		<div>
			<dt>Last here</dt>
			<dd>{call.lastSeenAt ? time(call.lastSeenAt) : 'never signed in'}</dd>
		</div>
		{#if call.tries > 0}<div>
				<dt>Not reached</dt>
				<dd>{call.tries === 1 ? 'once' : `${call.tries} times`}</dd>
			</div>{/if}
	</dl>
	<section aria-labelledby="call-open">
		<h3 id="call-open" class="text-[1rem]">What is open</h3>
		<ul class="text-sm">
			{#each call.items as item (item.id)}<li class="border-t border-(--rule-strong) py-1.5">
					<a class="font-semibold underline decoration-dotted underline-offset-2" href="/desk/clients/{call.clientId}/item/{item.id}">{item.title}</a>
					<span class="text-(--half)"
						>{leaf.due[item.id] ? `due ${leaf.due[item.id]}, ` : ''}{item.chasesSent === 1 ? '1 reminder' : `${item.chasesSent} reminders`}</span
					>
				</li>{/each}
		</ul>
	</section>
	<!-- calls stand below, with what was said -->
	<Tried tried={leaf.tried} {time} calls={false} />
	{#if call.lastWords || call.before.length > 0}<section aria-labelledby="call-said">
			<h3 id="call-said" class="text-[1rem]">What was said last</h3>
			<ul class="text-sm">
				{#if call.lastWords}<li class="border-t border-(--rule-strong) py-1.5">
						“{call.lastWords.words}” <span class="text-(--half)">{first} wrote, {time(call.lastWords.at)}</span>
					</li>{/if}
				{#each call.before as one (one.at)}<li class="border-t border-(--rule-strong) py-1.5">
						{one.note ? `“${one.note}”` : 'A call'}
						<span class="text-(--half)"
							>{SAID[one.outcome]}{one.promisedUntil ? ` until ${dateWords('en', one.promisedUntil)}` : ''}, {one.by}, {time(one.at)}</span
						>
					</li>{/each}
			</ul>
		</section>{/if}
	{#if mine('judge_item')}
		<form
			method="post"
			action="/desk/calls/{call.id}?/note"
			data-acts
			class="space-y-3"
			{@attach enhancedForm(handling)}
			{@attach keepOnDevice(`call ${call.id}`)}
		>
			{#if call.forPartner}<input type="hidden" name="outcome" value="seen" />
			{:else}<fieldset>
					<legend class="field-label">How it went</legend>
					<div class="flex flex-wrap gap-x-5 gap-y-1">
						{#each HOW as how (how.is)}<label class="flex min-h-7 items-center gap-2"
								><input type="radio" name="outcome" value={how.is} bind:group={outcome} />{how.words}</label
							>{/each}
					</div>
				</fieldset>
				{#if outcome === 'promised'}<label class="field max-w-xs"
						><span>Until which day</span><input type="date" name="until" min={leaf.today} required /></label
					>{/if}{/if}
			<label class="field"
				><span>{call.forPartner ? 'What you decided' : 'What was said'}</span><textarea name="note" rows="3" maxlength="1000"></textarea></label
			>
			{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
			<div class="flex flex-wrap items-center gap-3">
				<button class="act" aria-keyshortcuts="a" disabled={pending}
					>{call.forPartner ? 'I have seen it' : 'Note the call'} <span class="key">a</span></button
				>
				<p class="text-sm text-(--half)">{call.forPartner ? 'What is open stays open; nothing more goes by itself.' : chosen.then}</p>
			</div>
		</form>
		{#if !call.forPartner}<p class="text-xs text-(--half)">Until it is noted nobody reminds {first}, for three business days at most.</p>{/if}
	{/if}
</div>
