import { expect, test } from 'vitest';
import { filesBeside, filesToApprove } from './files-beside';

const files = ['new', 'picture', 'other', 'old'].map((id) => ({ id }));
const text = { type: 'doc' as const, content: [{ type: 'picture' as const, attrs: { id: 'picture', alt: '' } }] };

test('a picture in the words is no file beside them, and none that is approved or replaced', () => {
	expect(filesBeside({ attachments: files, text, spec: {} })).toEqual([{ id: 'new' }, { id: 'other' }, { id: 'old' }]);
	expect(filesBeside({ attachments: files, text: null, spec: {} })).toEqual(files);
	const spec = { questions: [{ helpText: text }, { helpText: null }, {}] };
	expect(filesBeside({ attachments: files, text: null, spec })).toEqual([{ id: 'new' }, { id: 'other' }, { id: 'old' }]);
	expect(filesToApprove({ attachments: files, text, spec: { earlier: ['old'] } })).toEqual({
		current: [{ id: 'new' }, { id: 'other' }],
		earlier: [{ id: 'old' }]
	});
	// asked before there were versions
	expect(filesToApprove({ attachments: files, text: null, spec: { earlier: [] } })).toEqual({ current: files, earlier: [] });
});
