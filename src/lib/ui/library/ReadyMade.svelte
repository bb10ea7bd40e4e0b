<script lang="ts">
	import { enhancedForm } from '../forms/enhanced-form';

	/** What ships with the product and was not copied yet; copying one is the page's action `make`. */
	let {
		all,
		taken,
		mayKeep,
		onProblem
	}: {
		all: readonly { id: string; name: string; about: string; questions: number }[];
		/** names that the firm has */ taken: ReadonlySet<string>;
		mayKeep: boolean;
		onProblem: (message: string) => void;
	} = $props();
</script>

<h2 class="section-head">Ready-made</h2>
<ul>
	{#each all.filter(({ name }) => !taken.has(name)) as ready (ready.id)}
		<li class="ledger-row kind-row ready">
			<span class="kind">{ready.questions === 1 ? 'one question' : `${ready.questions} questions`}</span>
			<span class="min-w-0 truncate"><b>{ready.name}</b> <span class="text-(--half)">{ready.about}</span></span>
			<span class="aside"></span>
			<span class="aside">
				{#if mayKeep}<form method="post" action="?/make" {@attach enhancedForm({ onProblem: (p) => onProblem(p.message) })}>
						<input type="hidden" name="ready" value={ready.id} /><button class="act-link" aria-label="Copy {ready.name}">Copy</button>
					</form>{/if}
			</span>
		</li>
	{:else}<li class="py-3 pl-[136px] text-sm text-(--half)">You have copied all of them.</li>{/each}
</ul>
