import type { ItemSpec } from '../items/item-kinds';
import type { ItemText } from './item-text';

/** The ids of the pictures in rich text. */
export function picturesIn(text: ItemText | null): string[] {
	return (text?.content ?? []).flatMap((block) => (block.type === 'picture' ? [block.attrs.id] : []));
}

/** The ids of the pictures in the explanations of questions. */
export function picturesOfQuestions(questions: readonly { helpText?: ItemText | null }[]): string[] {
	return [...new Set(questions.flatMap(({ helpText }) => picturesIn(helpText ?? null)))];
}

/** The ids of the pictures that stand in something asked, whatever kind it is of. */
export function picturesOfSpec(spec: object): string[] {
	return 'questions' in spec ? picturesOfQuestions(spec.questions as ItemSpec<'questionnaire'>['questions']) : [];
}

/** The files of the firm beside something asked, without the pictures that stand in its words. */
export function filesBeside<File extends { id: string }>(item: { attachments: readonly File[]; text: ItemText | null; spec: object }): File[] {
	const pictures = [...picturesIn(item.text), ...picturesOfSpec(item.spec)];
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
