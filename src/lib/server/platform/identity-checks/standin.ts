import { randomUUID } from 'node:crypto';
import { createServer } from 'node:http';
import { buffer } from 'node:stream/consumers';
import { z } from 'zod';
import type { CheckQuestion } from '$lib/core/signing/identity-check';
import { listenOnLoopback } from '../listen-on-loopback';

export interface IdentityCheckStandin {
	url: string;
	/** who was asked about, in order */
	asked: readonly z.output<typeof personSchema>[];
	close(): Promise<void>;
}

const personSchema = z.object({
	reference: z.uuid(),
	name: z.string().min(1),
	email: z.email(),
	phone: z.string().nullable(),
	language: z.string(),
	country: z.string().length(2)
});
const answersSchema = z.object({ answers: z.record(z.string(), z.string()) });
/** Of 100: with fewer points somebody has not shown who they are. */
const ENOUGH = 70;

const QUESTIONS = {
	en: [
		['In which of these streets have you lived?', ['Cooper’s Wharf', 'Larch Hill', 'Old Foundry Lane', 'Vine Court', 'none of these']],
		['Which of these was the name of your first school?', ['Amber Cove', 'Dunmore Road', 'Saint Hild’s', 'Wrenfield', 'none of these']],
		['Which of these vehicles was once yours?', ['a blue van', 'a green pickup', 'a red estate car', 'a white scooter', 'none of these']],
		['With which of these people have you shared an address?', ['A. Merrow', 'K. Oakes', 'P. Lindqvist', 'T. Vasey', 'none of these']]
	],
	fr: [
		[
			'Dans laquelle de ces rues avez-vous habité ?',
			['allée des Saules', 'chemin du Phare', 'quai des Tonneliers', 'rue du Four', 'aucune de celles-ci']
		],
		['Laquelle de ces écoles fut votre première ?', ['L’Anse', 'Le Grand Pré', 'Saint-Ambroise', 'Les Tilleuls', 'aucune de celles-ci']],
		[
			'Lequel de ces véhicules fut le vôtre ?',
			['un break rouge', 'un fourgon bleu', 'un scooter blanc', 'une camionnette verte', 'aucun de ceux-ci']
		],
		['Avec laquelle de ces personnes avez-vous partagé une adresse ?', ['A. Merrow', 'K. Oakes', 'P. Lindqvist', 'T. Vasey', 'aucune de celles-ci']]
	]
} as const;

/** The answers by which the stand-in takes somebody for who they say: to each question the choice that it names first. */
export const rightAnswers = (questions: readonly CheckQuestion[]): Record<string, string> =>
	Object.fromEntries(questions.map(({ key, choices }) => [key, choices[0].key]));

/**
 * A small service for the demo and the tests that checks identities, and knows nobody: the right answer to each question is the first one,
 * and three of four are enough. Of somebody whose name ends in “Unknown” it says that it knows too little. See `httpIdentityCheckService`.
 */
export async function startIdentityCheckStandin({ port, key }: { port: number; key: string }): Promise<IdentityCheckStandin> {
	const checks = new Map<string, { key: string; questions: CheckQuestion[]; result?: { passed: boolean; score: number } }>();
	const asked: z.output<typeof personSchema>[] = [];

	function take(method: string, path: string, body: string): { status: number; say: object } {
		if (method === 'GET' && path === '/terms')
			return { status: 200, say: { service: 'Quayside Identity (simulated)', price: { amount: '1.40', currency: 'CAD' } } };
		if (method === 'POST' && path === '/checks') {
			const person = personSchema.parse(JSON.parse(body));
			const known = checks.get(person.reference);
			if (known) return { status: 200, say: { check: known.key, questions: known.questions } };
			asked.push(person);
			if (/unknown$/i.test(person.name)) return { status: 422, say: { error: 'too little is known of this person' } };
			const questions = QUESTIONS[person.language.startsWith('fr') ? 'fr' : 'en'].map(([words, choices], at) => ({
				key: `q${at + 1}`,
				words,
				choices: choices.map((choice) => ({ key: randomUUID(), words: choice }))
			}));
			const made = { key: randomUUID(), questions };
			checks.set(person.reference, made);
			return { status: 201, say: { check: made.key, questions } };
		}
		const answered = /^\/checks\/([\w-]+)\/answers$/.exec(path)?.[1];
		const check = [...checks.values()].find((one) => one.key === answered);
		if (method !== 'POST' || !check) return { status: 404, say: { error: 'there is no such address' } };
		const { answers } = answersSchema.parse(JSON.parse(body));
		const right = Object.entries(rightAnswers(check.questions)).filter(([question, choice]) => answers[question] === choice).length;
		const score = Math.round((100 * right) / check.questions.length);
		check.result ??= { passed: score >= ENOUGH, score };
		return { status: 200, say: check.result };
	}

	const server = createServer(async (request, response) => {
		const reply = (status: number, say: object) => response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(say));
		if (request.headers.authorization !== `Bearer ${key}`) return reply(401, { error: 'wrong key' });
		try {
			const { status, say } = take(request.method ?? '', request.url ?? '', (await buffer(request)).toString('utf8'));
			reply(status, say);
		} catch {
			reply(400, { error: 'what was sent cannot be read' });
		}
	});
	const at = await listenOnLoopback(server, port);
	return {
		url: `http://127.0.0.1:${at}`,
		asked,
		close: () =>
			new Promise((resolve) => {
				server.close(() => resolve());
				server.closeAllConnections();
			})
	};
}
