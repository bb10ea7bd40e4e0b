import { DomainError } from '$lib/core/errors/domain-error';
import { handInStatementLines } from '../../transactions/answer-statement-lines';
import { forgetAsked, noteAsked, readAskedLines } from '../../transactions/choose-statement-lines';
import type { ServerItemKind } from '../item-kind';

const idsOf = (line: { spec: { lines: readonly { id: string }[] } }) => line.spec.lines.map(({ id }) => id);

export const transactions: ServerItemKind<'transactions'> = {
	handIn: (tx, actor, itemId) => handInStatementLines(tx, actor, itemId),
	// the lines as they stand in the file
	beforeSending: async (tx, line, { clientId }) => {
		const lines = await readAskedLines(tx, clientId, idsOf(line));
		if (lines.length !== line.spec.lines.length)
			throw new DomainError('not_found', `Some lines of “${line.title}” are not there any more. Take it out, and choose its lines again.`);
		return { ...line, spec: { ...line.spec, lines } };
	},
	afterWriting: (tx, item, line) => noteAsked(tx, item.id, idsOf(line)),
	onUndoSending: forgetAsked
};
