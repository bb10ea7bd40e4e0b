// Loaded before the app where a bench wants to know how long its event loop was held: `begin` forgets, anything else asks.
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { isMainThread } from 'node:worker_threads';

// threads of the app load it too
if (isMainThread) {
	const delay = monitorEventLoopDelay({ resolution: 1 });
	delay.enable();
	process.on('message', (message) => (message === 'begin' ? delay.reset() : process.send({ held: delay.max / 1e6 })));
	process.channel.unref();
}
