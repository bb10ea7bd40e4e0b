import { z } from 'zod';
import { mergeFieldsInText, mergeFieldWords, type MergeFieldName } from '../letters/merge-fields';
import { type Language } from '../people/languages';
import { languageField } from '../people/language-field';
import { longText, oneLine, optionalLine } from '../people/plain-fields';
import { TEXT_MESSAGE_MAX } from './text-message';

/** What a text of the Library is for. */
export const MESSAGE_TEXT_KINDS = [
	'invitation',
	'invitation_sms',
	'request',
	'request_sms',
	'sent_back',
	'answer',
	'chase_soon',
	'chase',
	'chase_firmer',
	'chase_sms',
	'thanks'
] as const;
export type MessageTextKind = (typeof MESSAGE_TEXT_KINDS)[number];

const PERSON: readonly MergeFieldName[] = ['contact_first_name', 'contact_name', 'firm_name'];
const PERSON_AND_CLIENT: readonly MergeFieldName[] = [...PERSON, 'client_name', 'responsible_name'];

/** Each kind: its words, whether it has a subject, how long it may be, which fields are known wherever it is used, and whether it can go out by itself. */
export const MESSAGE_TEXT_KIND: Record<
	MessageTextKind,
	{
		/** where there is little room */ short: string;
		words: string;
		about: string;
		subject: boolean;
		max: number;
		fields: readonly MergeFieldName[];
		byItself: boolean;
	}
> = {
	invitation: {
		short: 'invitation',
		words: 'Invitation',
		about: 'offered when somebody is invited',
		subject: true,
		max: 4000,
		fields: PERSON_AND_CLIENT,
		byItself: false
	},
	invitation_sms: {
		short: 'text, invitation',
		words: 'Invitation, as text message',
		about: 'offered when somebody is invited by text too',
		subject: false,
		max: TEXT_MESSAGE_MAX,
		fields: PERSON_AND_CLIENT,
		byItself: false
	},
	request: {
		short: 'request',
		words: 'Request',
		about: 'offered when something is asked for',
		subject: false,
		max: 4000,
		fields: [...PERSON_AND_CLIENT, 'today'],
		byItself: false
	},
	request_sms: {
		short: 'text, request',
		words: 'Request, as text message',
		about: 'goes out by itself to whoever gets text messages',
		subject: false,
		max: TEXT_MESSAGE_MAX,
		fields: [...PERSON, 'client_name'],
		byItself: true
	},
	sent_back: {
		short: 'sent back',
		words: 'Reason for sending back',
		about: 'offered when something is sent back',
		subject: false,
		max: 1000,
		fields: [],
		byItself: false
	},
	answer: {
		short: 'answer',
		words: 'Answer to somebody',
		about: 'offered when you write to somebody, with what is known of them filled in',
		subject: false,
		max: 4000,
		fields: [...PERSON_AND_CLIENT, 'today'],
		byItself: false
	},
	chase_soon: {
		short: 'due soon',
		words: 'Reminder before the due date',
		about: 'goes out by itself',
		subject: true,
		max: 4000,
		fields: PERSON,
		byItself: true
	},
	chase: {
		short: 'late',
		words: 'Reminder after the due date',
		about: 'goes out by itself',
		subject: true,
		max: 4000,
		fields: PERSON,
		byItself: true
	},
	chase_firmer: {
		short: 'late, firmer',
		words: 'Reminder after the due date, firmer',
		about: 'goes out by itself where a chase plan says so',
		subject: true,
		max: 4000,
		fields: PERSON,
		byItself: true
	},
	chase_sms: {
		short: 'text, reminder',
		words: 'Reminder, as text message',
		about: 'goes out by itself to whoever gets text messages',
		subject: false,
		max: TEXT_MESSAGE_MAX,
		fields: PERSON,
		byItself: true
	},
	thanks: {
		short: 'thanks',
		words: 'Thanks',
		about: 'goes out by itself when a request is finished',
		subject: true,
		max: 4000,
		fields: PERSON_AND_CLIENT,
		byItself: true
	}
};

export const SHARED = ['all', 'group', 'person'] as const;
export type Shared = (typeof SHARED)[number];

/** The beginning of a text in one line, its fields in words. */
export function beginningOf(body: string): string {
	return body
		.replace(/\{([a-z_]+)\}/g, (_, name: string) => mergeFieldWords(name).toLowerCase())
		.replace(/\s+/g, ' ')
		.slice(0, 140);
}

/** The form of a text. Which fields it may hold depends on its kind. */
export const messageTextSchema = z
	.object({
		kind: z.enum(MESSAGE_TEXT_KINDS, 'Choose what the text is for.'),
		language: languageField.catch('en'),
		name: oneLine('a name, by which it is found again', 80),
		folder: optionalLine('the folder', 60).transform((folder) => folder ?? ''),
		tags: z
			.string()
			.max(300)
			.optional()
			.transform((typed) => [
				...new Set(
					(typed ?? '')
						.split(',')
						.map((tag) => tag.trim().toLowerCase())
						.filter(Boolean)
				)
			])
			.pipe(z.array(z.string().max(30, 'Please keep each tag to 30 characters.')).max(10, 'Ten tags are enough.')),
		subject: optionalLine('the subject', 160).transform((subject) => subject ?? ''),
		body: longText('the words', 4000),
		shared: z.enum(SHARED).catch('all'),
		groupId: z.uuid().nullable().catch(null)
	})
	.superRefine((text, context) => {
		const kind = MESSAGE_TEXT_KIND[text.kind];
		if (kind.subject && !text.subject) context.addIssue({ code: 'custom', path: ['subject'], message: 'Please write a subject.' });
		if (text.body.length > kind.max)
			context.addIssue({ code: 'custom', path: ['body'], message: `Please keep the words to ${kind.max.toLocaleString('en')} characters.` });
		if (text.shared === 'group' && !text.groupId) context.addIssue({ code: 'custom', path: ['groupId'], message: 'Choose a group.' });
		for (const path of kind.subject ? (['subject', 'body'] as const) : (['body'] as const)) {
			const foreign = mergeFieldsInText(text[path]).filter((name) => !(kind.fields as readonly string[]).includes(name));
			if (foreign.length > 0)
				context.addIssue({ code: 'custom', path: [path], message: `This cannot be filled here: ${foreign.map(mergeFieldWords).join(', ')}.` });
		}
	})
	.transform((text) => ({
		...text,
		subject: MESSAGE_TEXT_KIND[text.kind].subject ? text.subject : '',
		groupId: text.shared === 'group' ? text.groupId : null
	}));
export type MessageTextForm = z.output<typeof messageTextSchema>;

export interface ReadyMadeMessageText {
	key: string;
	kind: MessageTextKind;
	/** English unless told otherwise */
	language?: Language;
	name: string;
	folder: string;
	tags: readonly string[];
	subject: string;
	body: string;
}

/** What ships with the product. Using one copies it. */
export const READY_MADE_MESSAGE_TEXTS: readonly ReadyMadeMessageText[] = [
	{
		key: 'welcome',
		kind: 'invitation',
		name: 'Welcome to a new client',
		folder: 'Taking on',
		tags: ['welcome'],
		subject: 'Your place at {firm_name}',
		body: 'Welcome! We are glad to look after the books of {client_name}.\n\nWe have set up a private page for you, where you hand in papers, answer our questions and sign letters, from your phone or computer. Please choose a password; it takes about a minute.'
	},
	{
		key: 'moved',
		kind: 'invitation',
		name: 'A new way of handing papers in',
		folder: 'Taking on',
		tags: ['existing clients'],
		subject: 'Papers for {client_name}: a simpler way',
		body: 'From now on you need not send us papers by e-mail any more. Everything we need for {client_name} is on a private page, safer than e-mail, and you always see what is still open.\n\nPlease choose a password. {responsible_name} still looks after you, and is glad to help with the first steps.'
	},
	{
		key: 'welcome-sms',
		kind: 'invitation_sms',
		name: 'Welcome, short',
		folder: 'Taking on',
		tags: ['welcome'],
		subject: '',
		body: '{contact_first_name}, your private page at {firm_name} is ready. Choose a password here:'
	},
	{
		key: 'first-papers',
		kind: 'request',
		name: 'The first papers',
		folder: 'Taking on',
		tags: ['first request'],
		subject: '',
		body: 'To begin with the books of {client_name} we need a few things from you. Take them one at a time, in any order; nothing is lost if you stop in between.\n\nSomething does not apply to you? Then say so on the page, and we will not ask again.'
	},
	{
		key: 'month',
		kind: 'request',
		name: 'Papers of the month',
		folder: 'Every month',
		tags: ['monthly'],
		subject: '',
		body: 'It is that time of the month again. Once your papers are here, we close the books of {client_name} and tell you how you did.'
	},
	{
		key: 'request-sms',
		kind: 'request_sms',
		name: 'Something new, short',
		folder: '',
		tags: [],
		subject: '',
		body: 'Hello {contact_first_name}, {firm_name} needs a few things from {client_name}. They are on your page:'
	},
	{
		key: 'pages-missing',
		kind: 'sent_back',
		name: 'A page is missing',
		folder: '',
		tags: [],
		subject: '',
		body: 'A page is missing. Could you add the whole document?'
	},
	{
		key: 'hard-to-read',
		kind: 'sent_back',
		name: 'Hard to read',
		folder: '',
		tags: [],
		subject: '',
		body: 'We cannot read all of it. Could you take the picture once more, in daylight and from straight above?'
	},
	{
		key: 'other-period',
		kind: 'sent_back',
		name: 'Another period',
		folder: '',
		tags: [],
		subject: '',
		body: 'This is for another period than the one we asked for. Could you look for the right one?'
	},
	{
		key: 'on-it',
		kind: 'answer',
		name: 'We have it and look at it',
		folder: '',
		tags: [],
		subject: '',
		body: 'Thank you, {contact_first_name}. We have it, and look at it in the next two working days. If something is unclear we write to you here.'
	},
	{
		key: 'picture-will-do',
		kind: 'answer',
		name: 'A picture will do',
		folder: '',
		tags: [],
		subject: '',
		body: 'A picture taken with your phone is fine, as long as every corner is on it and the figures can be read. Add it on your page, one picture for each page.'
	},
	{
		key: 'where-statements-are',
		kind: 'answer',
		name: 'Where the bank keeps statements',
		folder: '',
		tags: [],
		subject: '',
		body: 'Most banks keep statements under “Documents” or “Statements” once you have signed in. Choose the whole month, download it as a PDF, and add that file. A list of transactions on the screen is not enough, for it does not show the balance.'
	},
	{
		key: 'on-it-fr',
		kind: 'answer',
		language: 'fr',
		name: 'Bien reçu',
		folder: '',
		tags: [],
		subject: '',
		body: 'Merci {contact_first_name}. Nous l’avons bien reçu et le regardons dans les deux jours ouvrés. Si quelque chose n’est pas clair, nous vous écrivons ici.'
	},
	{
		key: 'soon',
		kind: 'chase_soon',
		name: 'A look ahead',
		folder: 'Reminders',
		tags: [],
		subject: 'Due soon at {firm_name}',
		body: 'Just so that it does not slip: a few things are due in the next days. You find them on your page, one step at a time.'
	},
	{
		key: 'still-missing',
		kind: 'chase',
		name: 'Still missing, warmly',
		folder: 'Reminders',
		tags: [],
		subject: 'We are still waiting for something from you',
		body: 'We know that paperwork is the last thing you want to do. We only need what is listed below, and can then get on with our part.\n\nIf something does not apply, or you need more time, say so on your page.'
	},
	{
		key: 'holding-us-up',
		kind: 'chase_firmer',
		name: 'It is holding us up',
		folder: 'Reminders',
		tags: [],
		subject: 'We cannot go on without these',
		body: 'What is listed below was due a while ago, and we cannot go on with your books until it is here.\n\nPlease hand it in this week. If something stands in the way, write to us on your page or call us: we will find a way together.'
	},
	{
		key: 'chase-sms',
		kind: 'chase_sms',
		name: 'Still missing, short',
		folder: 'Reminders',
		tags: [],
		subject: '',
		body: 'Hello {contact_first_name}, a few things for {firm_name} are still open. They wait on your page:'
	},
	{
		key: 'thanks',
		kind: 'thanks',
		name: 'Thank you, all is here',
		folder: '',
		tags: [],
		subject: 'Thank you, everything has arrived',
		body: 'Everything we asked for is here and in order. There is nothing more for you to do; we go on from here and write to you when something new comes up.'
	}
];
