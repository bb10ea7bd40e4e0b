import { DomainError } from '$lib/core/errors/domain-error';
import { OUTCOMES } from '$lib/core/public-pages/public-page';
import type { Tx } from '../../platform/db/database';
import { readCameIn, readMatches, type CameIn, type Match } from '../../public-pages/came-in';
import type { RoundsAt, RoundsSectionDefinition, SectionRow } from '../section';

/** What came on public pages is nobody's yet, so it stands in everybody's Rounds. */
async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
	const waiting = await tx.rows<{ id: string; title: string; name: string; business: string; confirmed: boolean; came_at: string }>(
		`select id, title, name, business, confirmed_at is not null confirmed, came_at from public_answer
		where firm_id = $1 and outcome is null order by came_at, id limit $2`,
		[tx.firmId, at.limit]
	);
	return waiting.map((answer) => ({
		key: `public-${answer.id}`,
		clientId: null,
		clientName: answer.business || answer.name || 'Somebody unnamed',
		since: answer.came_at,
		words: answer.business && answer.name ? `${answer.title}, by ${answer.name}` : answer.title,
		aside: answer.confirmed ? 'address confirmed' : ''
	}));
}

interface PublicAnswerLeaf {
	kind: 'public_answer';
	answer: CameIn;
	matches: Match[];
	/** who may look after a new client */
	staff: { id: string; name: string }[];
	me: string | null;
}

export const publicAnswers: RoundsSectionDefinition<PublicAnswerLeaf> = {
	count: 'select count(*) from public_answer where firm_id = $1 and outcome is null',
	rows,
	leaf: {
		key: 'public',
		async read(tx, actor, firm, id) {
			const answer = await readCameIn(tx, actor, firm, id);
			if (answer.outcome) throw new DomainError('not_found', `Somebody has dealt with it: it is ${OUTCOMES[answer.outcome]}.`);
			return {
				kind: 'public_answer',
				answer,
				matches: await readMatches(tx, actor, answer),
				staff: await tx.rows<{ id: string; name: string }>(
					'select id, name from staff where firm_id = $1 and suspended_at is null order by lower(name), id',
					[tx.firmId]
				),
				me: actor.id
			};
		},
		clientOf: () => null
	}
};
