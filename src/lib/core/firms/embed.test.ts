import { expect, test } from 'vitest';
import { embedOf } from './embed';

test('a video is shown within a page from its own player only: by https, from a host that is known, under an id', () => {
	expect(embedOf('https://vimeo.com/123456')).toBe('https://player.vimeo.com/video/123456');
	for (const address of [
		'http://vimeo.com/123456',
		'javascript://vimeo.com/123456',
		'https://vimeo.com.firm.example/123456',
		'https://vimeo.com/about',
		'no address'
	])
		expect(embedOf(address)).toBeNull();
});
