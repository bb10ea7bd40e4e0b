<script lang="ts">
	import LanternMark from '$lib/ui/desk/LanternMark.svelte';
	import PasskeyButton from '$lib/ui/sign-in/PasskeyButton.svelte';

	let { form } = $props();
</script>

<svelte:head><title>Sign in to the desk</title></svelte:head>
<main class="mx-auto max-w-sm px-6 pt-[16vh] pb-12">
	<p class="flex items-center gap-2 text-(--half)"><LanternMark /> Humble Lantern</p>
	<h1 class="mt-2 text-3xl">Sign in to the desk</h1>
	<form method="post" class="mt-6 space-y-4">
		{#if form?.problem}<p class="notice-wrong" role="alert">{form.problem.message}</p>{/if}
		<label class="field"
			><span>E-mail address</span><input name="email" type="email" autocomplete="username" required value={form?.problem?.values.email} /></label
		>
		<label class="field"><span>Password</span><input name="password" type="password" autocomplete="current-password" required /></label>
		<button class="act w-full">Sign in</button>
	</form>
	<div class="mt-3"><PasskeyButton signIn="/desk/sign-in" locale="en" /></div>
	<p class="mt-6 flex flex-wrap gap-x-5 text-sm">
		<a class="act-link" href="/desk/forgotten">I have forgotten my password</a>
		<a class="act-link" href="/desk/sign-in/code">Send me a code by e-mail</a>
	</p>
	<p class="mt-8 text-sm text-(--half)">For the people of the firm. Clients sign in at the address in their invitation.</p>
</main>
