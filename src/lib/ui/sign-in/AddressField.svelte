<script lang="ts">
	import { sayer } from '$lib/words/words';

	/** The field for the address somebody signs in with. */
	let { locale, value }: { locale: string; /** what was typed before the form came back */ value?: string } = $props();
	const say = $derived(sayer(locale));
</script>

<label class="field"><span>{say('signIn.email')}</span><input name="email" type="email" autocomplete="username" required {value} /></label>
