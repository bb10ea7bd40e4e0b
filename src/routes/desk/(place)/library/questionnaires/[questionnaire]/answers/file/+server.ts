import { z } from 'zod';
import { phoneInWords } from '$lib/core/people/phone';
import { contentDisposition } from '$lib/core/papers/file-name';
import { answersAsCsv, answersAsJson } from '$lib/server/requests/answers-of-many';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { answerReader } from '$lib/words/answers';

/** What clients answered, as a file. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const as = z.enum(['csv', 'json']).catch('csv').parse(event.url.searchParams.get('as'));
	const id = idParam(event.params.questionnaire);
	const { name, text } = await inPage(() =>
		desk.inFirm((tx) =>
			as === 'csv'
				? answersAsCsv(
						tx,
						desk.actor,
						id,
						answerReader('en', (number) => phoneInWords(number, ''))
					)
				: answersAsJson(tx, desk.actor, id)
		)
	);
	return new Response(text, {
		headers: {
			'content-type': as === 'csv' ? 'text/csv; charset=utf-8' : 'application/json',
			'content-disposition': contentDisposition('attachment', `${name}, answers.${as}`)
		}
	});
};
