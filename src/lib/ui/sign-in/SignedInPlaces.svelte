<script lang="ts">
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../forms/enhanced-form';

	/** Where somebody is signed in, each of which can be ended. */
	let {
		sessions,
		locale
	}: {
		sessions: { id: string; device: string; ip: string; lastUsedAt: string; trustedUntil: string | null; here: boolean }[];
		locale: string;
	} = $props();
	const say = $derived(sayer(locale));
	let problem = $state('');
</script>

<section class="mt-9" aria-labelledby="where">
	<h2 id="where" class="border-b border-(--rule-strong) pb-1 text-[1.1rem]">{say('you.sessions')}</h2>
	{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
	<ul>
		{#each sessions as session (session.id)}
			<li class="you-line">
				<div>
					<b>{session.device}</b>{#if session.here}&nbsp;· {say('you.here')}{/if}
					<p class="text-[0.9rem] text-(--half)">
						{say('you.lastUsed', { at: session.lastUsedAt, ip: session.ip })}{session.trustedUntil
							? ` ${say('you.trusted', { at: session.trustedUntil })}`
							: ''}
					</p>
				</div>
				{#if !session.here}
					<form method="post" action="?/endSession" {@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}>
						<input type="hidden" name="sessionId" value={session.id} /><button class="act-link">{say('you.end')}</button>
					</form>
				{/if}
			</li>
		{/each}
	</ul>
	{#if sessions.length > 1}
		<form method="post" action="?/endSession" class="mt-3" {@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}>
			<button class="act-quiet">{say('you.endOthers')}</button>
		</form>
	{/if}
</section>
