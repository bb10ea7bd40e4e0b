<script lang="ts">
	import { onMount, tick } from 'svelte';
	import { dev } from '$app/environment';
	import type { Devices } from '$lib/web/told-devices';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { sayer } from '$lib/words/words';

	/** On which devices somebody is told that there is something new, and the one they are on. */
	let { devices, locale, text }: { devices: Devices; locale: string; /** what they are told, and what not */ text: string } = $props();
	const say = $derived(sayer(locale));
	const here = $derived(devices.told.some((device) => device.here));

	let able = $state<'unknown' | 'unable' | 'blocked' | 'yes'>('unknown');
	let busy = $state(false);
	let problem = $state('');
	let given = $state({ endpoint: '', p256dh: '', auth: '' });
	let form: HTMLFormElement | undefined = $state();
	const look = () => {
		const has = 'serviceWorker' in navigator && 'PushManager' in window && 'Notification' in window;
		able = !has ? 'unable' : Notification.permission === 'denied' ? 'blocked' : 'yes';
	};
	onMount(look);

	async function tellHere() {
		busy = true;
		problem = '';
		try {
			if ((await Notification.requestPermission()) !== 'granted') {
				look();
				problem = able === 'blocked' ? '' : say('device.refused');
				busy = false;
				return;
			}
			await navigator.serviceWorker.register('/service-worker.js', { type: dev ? 'module' : 'classic' });
			const { pushManager } = await navigator.serviceWorker.ready;
			const subscription = (await pushManager.subscribe({ userVisibleOnly: true, applicationServerKey: devices.key })).toJSON();
			given = { endpoint: subscription.endpoint ?? '', p256dh: subscription.keys?.p256dh ?? '', auth: subscription.keys?.auth ?? '' };
			await tick();
			form?.requestSubmit();
		} catch {
			// no network, a service that is away, or one that the browser's maker has ended: the person cannot tell them apart
			problem = say('device.failed');
			busy = false;
		}
	}
	const handling = enhancedForm({
		onPending: (begins) => (busy = begins),
		onProblem: ({ message }) => (problem = message),
		onSuccess: () => void (problem = '')
	});
</script>

<p class="mt-1 text-(--half)">{text}</p>
{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
{#if able === 'unable'}<p class="mt-2">{say('device.unable')}</p>
{:else if able === 'blocked'}<p class="mt-2">{say('device.blocked')}</p>
{:else if able === 'yes' && !here}<form method="post" action="?/tellHere" class="mt-3" bind:this={form} {@attach handling}>
		<input type="hidden" name="endpoint" value={given.endpoint} /><input type="hidden" name="p256dh" value={given.p256dh} />
		<input type="hidden" name="auth" value={given.auth} />
		<button type="button" class="act-quiet" disabled={busy} onclick={tellHere}>{say('device.start')}</button>
	</form>{/if}
{#if devices.told.length > 0}
	<ul class="mt-2">
		{#each devices.told as device (device.id)}<li class="flex flex-wrap items-baseline gap-x-3 border-b border-(--rule) py-1.5">
				<span class:font-semibold={device.here}
					>{#if device.here}{say('device.here')}{:else}{say('device.since', { device: device.device, date: device.since })}{/if}</span
				>
				<form method="post" action="?/stopThere" class="ml-auto" {@attach handling}>
					<input type="hidden" name="device" value={device.id} />
					<button class="act-link min-h-6" disabled={busy} aria-label={say('device.stop.named', { device: device.device })}
						>{say('device.stop')}</button
					>
				</form>
			</li>{/each}
	</ul>
	<p class="mt-1 text-[0.86rem] text-(--half)">{say('device.out')}</p>
{/if}
