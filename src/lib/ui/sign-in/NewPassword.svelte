<script lang="ts">
	import { PASSWORD_MIN } from '$lib/core/people/passwords';
	import { sayer } from '$lib/words/words';

	/** The field of a new password: how long it is so far, and how soon it would be guessed. */
	let { locale, ownWords = [], password = $bindable('') }: { locale: string; ownWords?: string[]; password?: string } = $props();
	const say = $derived(sayer(locale));
	let shown = $state(false);
	let score = $state<0 | 1 | 2 | 3 | 4 | null>(null);
	let run = 0;
	const length = $derived([...password].length);

	/** Loads the estimator only when somebody types: it is large. */
	async function estimate() {
		const mine = ++run;
		const [{ ZxcvbnFactory }, { dictionary, adjacencyGraphs }] = await Promise.all([import('@zxcvbn-ts/core'), import('@zxcvbn-ts/language-common')]);
		if (mine !== run) return;
		const result = new ZxcvbnFactory({ dictionary, graphs: adjacencyGraphs }).check(password.slice(0, 100), ownWords);
		score = length < PASSWORD_MIN ? (Math.min(result.score, 1) as 0 | 1) : result.score;
	}
</script>

<div>
	<label class="field"
		><span>{say('join.password')}</span><input
			name="password"
			type={shown ? 'text' : 'password'}
			autocomplete="new-password"
			bind:value={password}
			oninput={estimate}
			maxlength="300"
			aria-describedby="password-hint password-strength"
			required
		/></label
	>
	<div class="mt-2 flex items-center gap-3">
		<div class="flex flex-1 gap-1" aria-hidden="true">
			{#each [0, 1, 2, 3] as bar (bar)}<span
					class="h-1.5 flex-1 rounded-full"
					style="background: {score !== null && password && score > bar ? 'var(--act)' : 'var(--rule-strong)'}"
				></span>{/each}
		</div>
		<button type="button" class="act-link text-sm" aria-pressed={shown} onclick={() => (shown = !shown)}
			>{shown ? say('join.hide') : say('join.show')}</button
		>
	</div>
	<p id="password-strength" class="min-h-6 text-sm" aria-live="polite">
		{#if password}{score === null ? '' : `${say(`join.strength.${score}`)} · `}{say('join.length', {
				count: length,
				missing: Math.max(0, PASSWORD_MIN - length)
			})}{/if}
	</p>
	<p id="password-hint" class="text-sm text-(--half)">{say('join.hint')}</p>
</div>
