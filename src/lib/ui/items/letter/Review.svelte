<script lang="ts">
	import { amountWords } from '$lib/words/amounts';
	import { dateWords, dayOf, timeWords } from '$lib/words/dates';
	import { outcomeWords } from '$lib/core/signing/identity-check';
	import { wayChoice, waysFor, wayWords } from '$lib/core/signing/ways';
	import { LETTER_STOPPED } from '$lib/core/signing/letter-states';
	import { DESK_ACCOUNT } from '../../letters/desk-account';
	import LetterText from '../../letters/LetterText.svelte';
	import NamedAccount from '../../letters/NamedAccount.svelte';
	import { enhancedForm } from '../../forms/enhanced-form';
	import TextChanges from '../../letters/TextChanges.svelte';
	import type { ReviewProps } from '../review';

	let { item, leaf, timeZone }: ReviewProps<'letter'> = $props();
	const signers = $derived(item.letter?.signers ?? []);
	const open = $derived(item.letter?.state === 'sent' || item.letter?.state === 'signed');
	/** who could sign instead of somebody who has not: for one outside the client also another one outside */
	const othersFor = (signer: { outside: boolean }) =>
		open && leaf.acts.includes('send_request')
			? [...leaf.people, ...(signer.outside ? leaf.outside : [])].filter(({ name }) => !signers.some((one) => one.name === name))
			: [];
	/** Sealing takes seconds; what takes longer than this has failed before. */
	const SEALING_MOST = 600_000;
	const late = $derived(
		signers.every(({ signedAt, copy }) => copy || (signedAt !== null && Date.parse(leaf.now) - Date.parse(signedAt) > SEALING_MOST))
	);
	/** what is being changed of one of them: who signs, or by which way they come to it */
	type Changing = 'who' | 'way' | 'paper' | 'return';
	let changing = $state<{ what: Changing; key: string } | null>(null);
	const isChanging = (what: Changing, key: string) => changing?.what === what && changing.key === key;
	function toggle(what: Changing, key: string) {
		problem = '';
		changing = isChanging(what, key) ? null : { what, key };
	}
	const handling = enhancedForm({
		onPending: (p) => (pending = p),
		onProblem: (p) => (problem = p.message),
		onSuccess: () => {
			changing = null;
			problem = '';
		}
	});
	const mayChangeWay = (signer: (typeof signers)[number]) =>
		open && leaf.acts.includes('send_request') && signer.side === 'client' && !signer.copy && (signer.state === 'waits' || signer.state === 'asked');
	/** who of the client can have signed by hand: whoever is asked now */
	const mayTakePaper = (signer: (typeof signers)[number]) =>
		open && leaf.acts.includes('judge_item') && signer.side === 'client' && !signer.copy && signer.state === 'asked';
	/** what they added to the letter, then what else lies among the client's papers */
	const scansOf = (key: string) => [
		...leaf.scans.filter(({ ofSigner }) => ofSigner === key),
		...leaf.scans.filter(({ ofSigner }) => ofSigner === null)
	];
	let problem = $state('');
	let pending = $state(false);
	const STATES = {
		waits: 'is asked when those before have signed',
		asked: 'is asked to sign',
		signed: 'has signed',
		declined: 'does not want to sign',
		stopped: 'was not asked any more'
	} as const;
</script>

{#if item.letter}
	{#if signers.length > 2 || item.letter.ofFiles || signers.some((one) => one.by !== 'portal' || one.onPaper || mayTakePaper(one) || mayChangeWay(one) || othersFor(one).length > 0)}
		<ol class="space-y-0.5 text-sm" aria-label="Who signs">
			{#each signers as signer (signer.key)}
				<li class="flex gap-2">
					<span class="w-4 text-center text-(--half)" aria-hidden="true"
						>{signer.copy ? '·' : signer.state === 'signed' ? '✓' : signer.state === 'declined' ? '×' : '–'}</span
					>
					<span
						><b>{signer.name}</b>{signer.outside ? ', not of the client,' : ''}
						{signer.copy
							? item.letter.state === 'sealed'
								? 'got a copy'
								: 'gets a copy at the end'
							: `${STATES[signer.state]}${signer.signedAt ? ` ${dateWords('en', dayOf(signer.signedAt, timeZone))}` : ''}${signer.onPaper ? ', by hand on paper' : ''}`}{!signer.copy &&
						!signer.onPaper &&
						signer.by !== 'portal'
							? `${signer.state === 'asked' || signer.state === 'signed' ? '' : ','} ${wayWords(signer.by)}`
							: ''}
						{#if othersFor(signer).length > 0 && signer.side === 'client' && (signer.state === 'waits' || signer.state === 'asked')}<button
								type="button"
								class="act-link"
								aria-expanded={isChanging('who', signer.key)}
								aria-label="Somebody else instead of {signer.name}"
								onclick={() => toggle('who', signer.key)}>somebody else …</button
							>{/if}
						{#if mayChangeWay(signer)}<button
								type="button"
								class="act-link"
								aria-expanded={isChanging('way', signer.key)}
								aria-label="Another way for {signer.name}"
								onclick={() => toggle('way', signer.key)}>another way …</button
							>{/if}
						{#if mayTakePaper(signer) && !signer.onPaperAt}<button
								type="button"
								class="act-link"
								aria-expanded={isChanging('paper', signer.key)}
								aria-label="{signer.name} has signed on paper"
								onclick={() => toggle('paper', signer.key)}>signed on paper …</button
							>{/if}</span
					>
				</li>
				{@const checked = leaf.checks.find(({ key }) => key === signer.key)}
				{#each checked?.checks ?? [] as check, at (at)}<li class="pl-6 text-(--half)">
						{dateWords('en', dayOf(check.at, timeZone))}: {outcomeWords(check.outcome, check.score)}{check.price !== null && check.currency !== null
							? ` (${amountWords('en', check.price, check.currency)})`
							: ''}
					</li>{/each}
				{#if checked?.stoppedAt && signer.state === 'asked' && open}
					<li class="notice-lamp my-1 ml-6">
						<p>{signer.name} cannot sign: they have no try left. Talk to them first: are they who they say?</p>
						{#if leaf.acts.includes('send_request')}
							{#if problem && !changing}<p class="field-problem" role="alert">{problem}</p>{/if}
							<form method="post" action="/desk/items/{item.id}?/checkAgain" class="mt-2" {@attach handling}>
								<input type="hidden" name="version" value={item.version} />
								<input type="hidden" name="signer" value={signer.key} />
								<button class="act-quiet" disabled={pending}>Let {signer.name} try again</button>
								<p class="mt-1 text-xs text-(--half)">They get a new message, and are reminded again.</p>
							</form>
						{/if}
					</li>
				{/if}
				{#if signer.onPaperAt && mayTakePaper(signer)}
					<li class="notice-lamp my-1 ml-6">
						<p>
							{signer.name} sent it signed by hand, {timeWords('en', signer.onPaperAt, timeZone)}. Look at the pages; until then nobody reminds them.
						</p>
						<p class="mt-1 flex gap-x-4">
							<button type="button" class="act-link" aria-expanded={isChanging('paper', signer.key)} onclick={() => toggle('paper', signer.key)}
								>Take it as signed …</button
							>
							<button type="button" class="act-link" aria-expanded={isChanging('return', signer.key)} onclick={() => toggle('return', signer.key)}
								>Send it back …</button
							>
						</p>
					</li>
				{/if}
				{#if isChanging('return', signer.key)}
					<li class="pb-2 pl-6">
						{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
						<form method="post" action="/desk/items/{item.id}?/returnSignedPaper" class="space-y-2" {@attach handling}>
							<input type="hidden" name="version" value={item.version} />
							<input type="hidden" name="signer" value={signer.key} />
							<label class="field"
								><span>What is missing; {signer.name} reads it</span><textarea name="reason" rows="3" maxlength="1000" required></textarea></label
							>
							<button class="act-quiet" disabled={pending}>Send it back</button>
						</form>
						<p class="text-xs text-(--half)">They get your words by e-mail, can send other pages or sign here, and are reminded again.</p>
					</li>
				{/if}
				{#if isChanging('paper', signer.key)}
					<li class="pb-2 pl-6">
						{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
						{#if scansOf(signer.key).length === 0}
							<p class="text-sm">
								There is no PDF and no photo among the client’s papers. <a class="act-link" href="/desk/clients/{item.clientId}/papers"
									>Add the scan there</a
								>, then come back.
							</p>
						{:else}
							<form method="post" action="/desk/items/{item.id}?/takeSignedPaper" class="space-y-2" {@attach handling}>
								<input type="hidden" name="version" value={item.version} />
								<input type="hidden" name="signer" value={signer.key} />
								<fieldset>
									<legend class="text-sm">The pages that {signer.name} signed</legend>
									<ul class="mt-1 max-h-60 overflow-auto border border-(--rule-strong) bg-(--sheet) px-3 py-1">
										{#each scansOf(signer.key) as scan (scan.id)}
											<li class="flex items-baseline gap-2 py-0.5">
												<label class="flex min-w-0 flex-1 items-baseline gap-2"
													><input type="checkbox" name="paperId" value={scan.id} checked={scan.ofSigner !== null} />
													<span class="min-w-0 break-words">{scan.name}</span>
													<span class="text-xs whitespace-nowrap text-(--half)">{dateWords('en', dayOf(scan.at, timeZone), 'short')}</span></label
												>
												<a class="act-link" href="/desk/papers/{scan.id}" target="_blank" rel="noopener" aria-label="Look at {scan.name}">look</a>
											</li>
										{/each}
									</ul>
								</fieldset>
								<label class="field"
									><span>Signed on</span><input
										class="line-input"
										type="date"
										name="signedOn"
										value={dayOf(signer.onPaperAt ?? leaf.now, timeZone)}
										max={dayOf(leaf.now, timeZone)}
										required
									/></label
								>
								<label class="flex items-start gap-2"
									><input type="checkbox" name="looked" value="yes" required class="mt-1" /> I have looked at the pages: they are this letter, whole,
									and {signer.name} has signed them.</label
								>
								<button class="act-quiet" disabled={pending}>Take it as signed</button>
							</form>
							<p class="text-xs text-(--half)">
								The pages stand in the sealed file behind the letter, and its certificate says that it was signed by hand and that you looked.
							</p>
						{/if}
					</li>
				{/if}
				{#if isChanging('way', signer.key)}
					<li class="pb-2 pl-6">
						{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
						<form method="post" action="/desk/items/{item.id}?/changeWay" class="flex flex-wrap items-end gap-2" {@attach handling}>
							<input type="hidden" name="version" value={item.version} />
							<input type="hidden" name="signer" value={signer.key} />
							<label class="field"
								><span>How {signer.name} comes to it</span><select class="line-input max-w-full" name="by" value={signer.by}>
									{#each waysFor({ outside: signer.outside, check: leaf.check, now: signer.by }) as way (way)}<option value={way}
											>{wayChoice(way, leaf.check)}</option
										>{/each}
								</select></label
							>
							<button class="act-quiet" disabled={pending}>Change it</button>
						</form>
						<p class="text-xs text-(--half)">
							{signer.state === 'asked'
								? `${signer.name} gets a new message, and a browser that has the letter open by a link is asked anew.`
								: 'They are told when it is their turn.'}
						</p>
					</li>
				{/if}
				{#if isChanging('who', signer.key)}
					<li class="pb-2 pl-6">
						{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
						<form method="post" action="/desk/items/{item.id}?/replaceSigner" class="flex flex-wrap items-end gap-2" {@attach handling}>
							<input type="hidden" name="version" value={item.version} />
							<input type="hidden" name="signer" value={signer.key} />
							<label class="field"
								><span>Who instead of {signer.name}</span><select class="line-input" name="contactId" required>
									{#each othersFor(signer) as other (other.id)}<option value={other.id}>{other.name}</option>{/each}
								</select></label
							>
							<button class="act-quiet" disabled={pending}>{signer.copy ? 'They get the copy' : 'They sign'}</button>
						</form>
						<p class="text-xs text-(--half)">
							{signer.name} is not asked any more. What others have signed stays, and they sign the same pages.
						</p>
					</li>
				{/if}
			{/each}
		</ol>
	{/if}
	{#if item.letter.state === 'sent' && item.letter.lapsesOn}<p class="text-sm">
			It can be signed until {dateWords('en', item.letter.lapsesOn)}.
		</p>{/if}
	{#if item.letter.state === 'sealed'}
		<p class="text-sm">Signed by all and sealed {timeWords('en', item.letter.sealedAt!, timeZone)}.</p>
		<a class="act" href="/desk/letters/{item.id}?download" download>Download the sealed PDF</a>
	{:else}
		{#if item.letter.state === 'complete'}<p class="text-sm" role="status">
				{late
					? 'All have signed, and it could not be sealed yet: it is tried again by itself. If this stays, tell whoever runs Humble Lantern.'
					: 'All have signed. It is being sealed, and will be here in a moment.'}
			</p>{/if}
		{#if leaf.pages?.document}<details class="border border-(--rule-strong) bg-(--sheet)">
				<summary class="cursor-pointer px-4 py-2 text-sm"
					>Read the letter, {item.letter.pages === 1 ? 'one page' : `${item.letter.pages} pages`}</summary
				>
				<div class="max-h-96 overflow-auto px-5 pb-3">
					<LetterText document={leaf.pages.document} account={DESK_ACCOUNT} />
				</div>
			</details>{:else}<p class="text-sm">
				<a class="act-link" href="/desk/letters/{item.id}" target="_blank" rel="noopener"
					>Read its {item.letter.pages === 1 ? 'page' : `${item.letter.pages} pages`}</a
				>
			</p>{/if}
		<a class="act-link text-sm" href="/desk/letters/{item.id}?download" download>Download as PDF, without signatures</a>
	{/if}
	{#if leaf.waiting.length > 0}<div class="text-sm">
			<p>
				{LETTER_STOPPED.includes(item.letter.state) ? 'This waited for it, and does not go by itself:' : 'This goes by itself once all have signed:'}
			</p>
			<ul class="list-disc pl-5">
				{#each leaf.waiting as one (one.href)}<li><a class="act-link" href={one.href}>{one.title}</a></li>{/each}
			</ul>
		</div>{/if}
	{#if leaf.pages?.changes}<details class="text-sm">
			<summary class="cursor-pointer">A new version: what it says otherwise</summary>
			<div class="mt-2"><TextChanges changes={leaf.pages.changes} locale="en" /></div>
		</details>{/if}
	{#if leaf.pages?.newer}<p class="text-sm"><a class="act-link" href="/desk/items/{leaf.pages.newer}">There is a new version of it</a></p>
	{:else if LETTER_STOPPED.includes(item.letter.state) && leaf.acts.includes('send_request')}
		<form method="post" action="/desk/items/{item.id}?/newLetterVersion"><button class="act-quiet">Write a new version …</button></form>
	{/if}
	{#each leaf.authorisations as authorisation (authorisation.id)}<NamedAccount
			itemId={item.id}
			version={item.version}
			{authorisation}
			may={leaf.acts.includes('hand_on_accounts')}
			{timeZone}
		/>{/each}
	<p class="text-sm">
		<a class="act-link" href="/desk/clients/{item.clientId}/item/{item.id}/trail">The trail: who did what, when and from where</a>
	</p>
{/if}
