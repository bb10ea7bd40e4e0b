<script lang="ts">
	let { data } = $props();
</script>

<svelte:head><title>What a signature made here is · {data.firm.name}</title></svelte:head>
<main id="sheet" class="sheet choosing" tabindex="-1">
	<div class="masthead">
		<p class="text-sm"><a class="act-link" href="/desk/library">Library</a></p>
		<h1 class="text-[1.65rem] leading-tight">What a signature made here is</h1>
		<p class="mt-1 max-w-[44rem] text-[0.88rem] text-(--half)">
			In plain words, so that you can decide what to have signed here. It is no legal advice; where much depends on it, ask somebody who gives that.
		</p>
	</div>
	<div class="about max-w-[46rem] pr-5 pb-10 pl-4 md:pl-[104px]">
		<h2>What is kept of it</h2>
		<p>
			Somebody signs after the whole letter was before them and after they said that they agree to sign it electronically. Kept are their name and
			mark, the words they agreed to, the time, the address of their network and what their browser says of itself. When all have signed, everything
			is put into one PDF with the firm’s seal: whoever changes a byte of it breaks the seal, and anybody can check that. The trail beside the letter
			lists what happened to it.
		</p>
		<p>
			Who they are is known from their sign-in: an address they could read mail at, and a password, passkey or code. Whoever signs by a link of their
			own shows less: with a code, that they read mail at that address or hold that phone on the day; with the link alone, that somebody had the link.
			Which of these it was stands on the certificate page. Somebody outside the client signs in their own name; what they are to the client is for
			the document to say. Nobody has looked at a passport. If you need to be surer, see them, or call them, and write a note about it.
		</p>
		<h2>Canada and the United States</h2>
		<p>
			In the United States the ESIGN Act and, in nearly every state, the Uniform Electronic Transactions Act say that a signature is not refused only
			because it is electronic. They ask that somebody means to sign, agrees to do it electronically, that the signature belongs to the document, and
			that everybody can keep the document. In Canada the electronic commerce acts of the provinces say much the same; the federal act on personal
			information adds rules of its own for federal matters.
		</p>
		<p>
			Wills, some family matters, some notices and whatever has to be witnessed or notarised are left out of these acts. Tax authorities have rules of
			their own for some forms, such as how somebody has to prove who they are before they sign an authorisation to file: look those up for each form.
		</p>
		<h2>European Union and United Kingdom</h2>
		<p>
			The eIDAS regulation, and the law that came from it in the United Kingdom, know three levels. A <b>simple</b> electronic signature is not
			refused as evidence because it is electronic; how much it proves is for a court to weigh. An <b>advanced</b> one must be linked to one person
			alone, show who they are, be made by means under their sole control, and be bound to the document so that a later change shows. A
			<b>qualified</b> one needs a certificate and a device that are approved for it, and counts as a handwritten one everywhere in the Union.
		</p>
		<p>
			What is signed here is a simple electronic signature. The seal over the whole shows later changes, which is one of the things asked of an
			advanced one; that the others are met is not claimed.
		</p>
		<h2>When paper is better</h2>
		<p>
			Where a law asks for handwriting, a witness, a notary, or a qualified signature, have it signed that way. A letter that went out from here can
			be printed and signed by hand: the client sends the pages, or you take them from their papers, and somebody of the firm looks at them. The
			sealed file then holds those pages and says so. The seal shows that nothing was changed since; who held the pen is for whoever looked to say.
		</p>
	</div>
</main>

<style>
	.about h2 {
		margin-top: 1.4rem;
		font-size: 1.15rem;
	}
	.about p {
		margin-top: 0.5rem;
		line-height: 1.55;
	}
</style>
