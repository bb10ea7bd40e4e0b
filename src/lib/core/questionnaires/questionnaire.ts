import { z } from 'zod';
import { endsSchema } from '../items/brings';
import { questionSchema } from '../items/questions';
import { picturesOfQuestions } from '../requests/files-beside';
import { oneLine, optionalText } from '../people/plain-fields';

/** Most questions of one questionnaire. */
export const QUESTIONS_MAX = 300;

/** Most pictures in the explanations of all its questions. */
export const PICTURES_MAX = 40;

/** A questionnaire of the Library as it is written. */
export const questionnaireSchema = z
	.object({
		name: oneLine('what it is called', 120),
		about: optionalText('what it is for', 400).transform((text) => text ?? ''),
		questions: z
			.array(questionSchema)
			.min(1, 'Write at least one question.')
			.max(QUESTIONS_MAX, `At most ${QUESTIONS_MAX} questions in one questionnaire; make a second one.`),
		/** files may be added to the answers */
		files: z.boolean().default(false),
		/** whoever is asked signs the answers as they hand them in */
		signed: z.boolean().default(false),
		/** what all answers together bring about at the firm */
		ends: endsSchema,
		/** the year it asks about, where there is one for every year */
		year: z.int().min(1990).max(2200).nullable().default(null)
	})
	.superRefine(({ questions }, context) => {
		if (picturesOfQuestions(questions).length > PICTURES_MAX)
			context.addIssue({
				code: 'custom',
				path: ['questions'],
				message: `At most ${PICTURES_MAX} pictures in the explanations of one questionnaire.`
			});
		if (new Set(questions.map(({ key }) => key)).size !== questions.length)
			context.addIssue({ code: 'custom', path: ['questions'], message: 'Two questions are the same one. Load the page again.' });
	});
export type Questionnaire = z.output<typeof questionnaireSchema>;

/** Which questionnaire of the Library something was asked with. */
export const fromLibrarySchema = z.object({
	id: z.uuid(),
	name: z.string().max(120).default(''),
	version: z.int().positive(),
	/** that of the year before, whose answers are proposed */
	before: z.uuid().nullable().default(null)
});
export type FromLibrary = z.output<typeof fromLibrarySchema>;

/** What the copy for the next year is called: the year in the name goes up, or is added. */
export function nameForYear(name: string, from: number | null, to: number): string {
	const was = String(from ?? '');
	const named =
		was !== '' && name.includes(was)
			? name.replaceAll(was, String(to))
			: /\b(19|20)\d\d\b/.test(name)
				? name.replace(/\b(19|20)\d\d\b/, String(to))
				: `${name} ${to}`;
	return named.slice(0, 120);
}
