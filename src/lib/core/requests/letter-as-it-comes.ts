import type { FirmFacts } from '../facts/fact-definition';
import { withoutParts, type LetterDocument } from '../letters/letter-document';
import { factsOfCondition, judge, type ClientKnown } from './conditions';

/**
 * A letter without the parts that do not come for a client, as far as somebody can tell who may not see everything of them.
 * @param client what they may see of the client
 * @param hidden names of the facts that they may not see: a part that hangs on one may come
 */
export function letterAsItComes(document: LetterDocument, client: ClientKnown, hidden: readonly string[], facts: FirmFacts): LetterDocument {
	return withoutParts(
		document,
		({ attrs: { onlyIf } }) => factsOfCondition(onlyIf).some((name) => hidden.includes(name)) || judge(onlyIf, client, facts).holds !== false
	);
}
