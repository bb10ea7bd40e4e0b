import { expect, test } from 'vitest';
import { deviceInWords } from './device-words';

test('a browser is named by what it says of itself, and by nothing where it says nothing', () => {
	expect(deviceInWords('Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0')).toEqual({ browser: 'Firefox', system: 'Linux' });
	expect(deviceInWords('')).toBeNull();
	expect(deviceInWords('x')).toBeNull();
});
