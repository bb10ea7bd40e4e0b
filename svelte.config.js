import adapter from '@sveltejs/adapter-node';
import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';

/** @type {import('@sveltejs/kit').Config} */
export default {
	preprocess: vitePreprocess(),
	kit: {
		adapter: adapter({ out: 'build', precompress: true }),
		// hooks.server.ts checks the origin itself: one-click unsubscribing (RFC 8058) comes without one
		csrf: { trustedOrigins: ['*'] },
		// whoever wants to be told on their device asks for it; nobody else gets one
		serviceWorker: { register: false },
		csp: {
			mode: 'nonce',
			directives: {
				'default-src': ['none'],
				'script-src': ['self'],
				'style-src': ['self'],
				'style-src-attr': ['unsafe-inline'],
				'img-src': ['self', 'data:', 'blob:'],
				'font-src': ['self'],
				'connect-src': ['self'],
				'worker-src': ['self'],
				'form-action': ['self'],
				// players of videos that a firm welcomes its clients with
				'frame-src': ['self', 'https://www.youtube-nocookie.com', 'https://player.vimeo.com'],
				'base-uri': ['none'],
				'frame-ancestors': ['none'],
				'object-src': ['none'],
				'manifest-src': ['self']
			}
		},
		typescript: {
			config: (config) => ({
				...config,
				include: [...config.include, '../demo/**/*.ts', '../e2e/**/*.ts', '../bench/**/*.ts', '../*.config.ts']
			})
		}
	}
};
