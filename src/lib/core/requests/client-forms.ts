import { z } from 'zod';
import { oneLine, optionalText } from '../people/plain-fields';
import { newQuestion as question, questionSchema } from '../items/questions';

/** A form with which clients ask the firm for something, as it is written in the Library. */
export const clientFormSchema = z.object({
	name: oneLine('what it is called', 80),
	about: optionalText('what it is for', 300).transform((text) => text ?? ''),
	questions: z.array(questionSchema).min(1, 'Write at least one question.').max(60, 'At most 60 questions in one form.'),
	/** files may be added */
	files: z.boolean(),
	/** ids of services whose clients have it; none for all */
	services: z.array(z.uuid()).max(40).default([])
});
export type ClientForm = z.output<typeof clientFormSchema>;

const words = { is: 'words' } as const;

/** Forms that ship with the product. Using one makes a copy. */
export const READY_MADE_FORMS: readonly (ClientForm & { id: string })[] = [
	{
		id: 'new-employee',
		name: 'Somebody new works for us',
		about: 'Before their first pay, so that it is right from the start.',
		questions: [
			question('name', 'Their name, as on their papers', words),
			question('from', 'First day of work', { is: 'date' }),
			question('paid', 'How are they paid?', { is: 'one_of', choices: ['by the hour', 'a salary', 'by the piece'] }),
			question('rate', 'How much, for what time?', words),
			question('rest', 'Anything out of the ordinary?', words, { required: false })
		],
		files: true,
		services: []
	},
	{
		id: 'letter-from-us',
		name: 'A letter from you',
		about: 'A bank, a landlord or an authority wants something in writing about us.',
		questions: [
			question('who', 'Who wants it?', words),
			question('what', 'What should it say?', words),
			question('by', 'By when?', { is: 'date' }),
			question('language', 'In which language?', { is: 'one_of', choices: ['English', 'French'] }, { required: false })
		],
		files: true,
		services: []
	},
	{
		id: 'big-purchase',
		name: 'We are about to buy something large',
		about: 'Before you sign: a few words now may save a good deal later.',
		questions: [
			question('what', 'What is it?', words),
			question('price', 'What does it cost, more or less?', words),
			question('paid', 'How would it be paid?', { is: 'one_of', choices: ['at once', 'a loan', 'a lease', 'not decided'] }),
			question('when', 'When?', words, { required: false })
		],
		files: true,
		services: []
	},
	{
		id: 'from-authority',
		name: 'Something came from the tax office',
		about: 'Take a picture of it. We tell you whether anything has to be done.',
		questions: [
			question('answer', 'Does it say by when they want an answer?', { is: 'date' }, { required: false }),
			question('words', 'Anything you want to say about it?', words, { required: false })
		],
		files: true,
		services: []
	},
	{
		id: 'something-else',
		name: 'Something else',
		about: 'Anything that does not fit elsewhere.',
		questions: [
			question('what', 'What can we do for you?', words),
			question('by', 'Is there a day by which you need it?', { is: 'date' }, { required: false })
		],
		files: true,
		services: []
	}
];
