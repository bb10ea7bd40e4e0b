<script lang="ts">
	import { enhancedForm } from '../forms/enhanced-form';

	/** The versions before the one in use, each to be brought back by the page's action `restore`. */
	let {
		versions,
		version,
		mayKeep,
		onPending,
		onProblem
	}: {
		versions: readonly { version: number; what: string; keptAt: string; keptBy: string }[];
		/** the one that is looked at */ version: number;
		mayKeep: boolean;
		/** the page is left: nothing is asked about what is not saved */ onPending: () => void;
		onProblem: (message: string) => void;
	} = $props();
</script>

{#if versions.length > 0}
	<h2 class="pt-2 text-[1rem]">Earlier versions</h2>
	<ul class="text-sm">
		{#each versions as old (old.version)}<li class="flex items-baseline gap-3 border-b border-(--rule-strong) py-1">
				<span class="min-w-0 flex-1">{old.version}: {old.what} <span class="text-(--half)">until {old.keptAt}, {old.keptBy}</span></span>
				{#if mayKeep}<form
						method="post"
						action="?/restore"
						{@attach enhancedForm({
							onPending: (p) => {
								if (p) onPending();
							},
							onProblem: (p) => onProblem(p.message),
							onSuccess: () => location.reload()
						})}
					>
						<input type="hidden" name="restore" value={old.version} /><input type="hidden" name="version" value={version} />
						<button class="act-link" aria-label="Bring version {old.version} back">Restore</button>
					</form>{/if}
			</li>{/each}
	</ul>
{/if}
