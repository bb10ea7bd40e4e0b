import type { ItemSpec } from '../items/item-kinds';
import type { ItemText } from './item-text';

/** The ids of the pictures in rich text. */
export function picturesIn(text: ItemText | null): string[] {
	return (text?.content ?? []).flatMap((block) => (block.type === 'picture' ? [block.attrs.id] : []));
}

/** The files of the firm beside something asked, without the pictures that stand in its words. */
export function filesBeside<File extends { id: string }>(item: { attachments: readonly File[]; text: ItemText | null }): File[] {
	const pictures = picturesIn(item.text);
	return item.attachments.filter((file) => !pictures.includes(file.id));
}

/** The files that are shown for approval, and those that newer versions took the place of. */
export function filesToApprove<File extends { id: string }>(item: {
	attachments: readonly File[];
	text: ItemText | null;
	spec: ItemSpec<'approve'>;
}): { current: File[]; earlier: File[] } {
	const replaced = item.spec.earlier;
	const files = filesBeside(item);
	return { current: files.filter((file) => !replaced.includes(file.id)), earlier: files.filter((file) => replaced.includes(file.id)) };
}
