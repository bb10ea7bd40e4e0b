<script lang="ts">
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../../forms/enhanced-form';
	import FilesToApprove from '../../portal/FilesToApprove.svelte';
	import Unfold from '../../portal/Unfold.svelte';
	import { shortFirm, type AnswerProps } from '../answer';

	let { item, open, remarks, locale, brand, filesAt, handling, pending, keeping, typed, fields, refused }: AnswerProps<'approve'> = $props();
	const say = $derived(sayer(locale));
	const changeWords = $derived(String(typed('change.words') ?? ''));
</script>

<FilesToApprove {item} {filesAt} {remarks} {locale} pinAt={open ? '?/pin' : null} firstPages />
{#if open}
	<div class="mt-4 space-y-3">
		<form method="post" action="?/handIn" {@attach enhancedForm(handling)}>
			<input type="hidden" name="agrees" value="yes" /><button class="act w-full" disabled={pending}>{say('item.approve.agree')}</button>
		</form>
		<Unfold words={say('item.approve.change')} quiet open={refused === 'handIn' || Boolean(changeWords)}>
			{#snippet children(close)}
				<form method="post" action="?/handIn" class="mt-3 space-y-3" {@attach enhancedForm(handling)} {@attach keeping('change.')}>
					<input type="hidden" name="agrees" value="no" />
					<label class="field"
						><span>{say('item.approve.how')}</span><textarea
							name="words"
							rows="3"
							maxlength="4000"
							value={changeWords}
							aria-invalid={fields.words ? 'true' : undefined}></textarea></label
					>
					<div class="flex flex-wrap gap-2">
						<button class="act" disabled={pending}>{say('item.approve.send', { firm: shortFirm(brand.name) })}</button>
						<button type="button" class="act-quiet" onclick={close}>{say('item.no.cancel')}</button>
					</div>
				</form>
			{/snippet}
		</Unfold>
	</div>
{:else if item.answerData}
	{@const verdict = item.answerData}
	<p class="mt-4">{verdict.agrees ? say('item.approve.agreed') : say('item.approve.changed', { words: verdict.words ?? 'none' })}</p>
{/if}
