import type { Fee } from '../letters/fees';
import type { SigningPeople } from '../signing/signers';
import type { FactDefinition } from '../facts/fact-definition';

/** A questionnaire of the Library, to be asked by a line. */
export interface QuestionnaireChoice {
	id: string;
	name: string;
	version: number;
	/** how many there are */
	questions: number;
	/** by which plan it is chased; null as its list, the client or the firm has it */ chasePlan: string | null;
}

/** What of the firm whoever writes lines and questions needs. */
export interface WritingPlace {
	/** of amounts, to begin with */ currency: string;
	timeZone: string;
	/** names of what the firm does */ services: readonly string[];
	/** what the firm wants to know of its clients, in the order of the record */ facts: readonly FactDefinition[];
	/** people of the firm who may be given tasks */ staff: readonly { id: string; name: string }[];
	/** lists of the Library that anybody may send */ lists: readonly { id: string; name: string; lines: readonly { key: string; title: string }[] }[];
	/** of the Library, by name */ questionnaires: readonly QuestionnaireChoice[];
	/** what the client's services cost, as its record has it; null where the client is not known yet */ fees: readonly Fee[] | null;
	/** the firm’s chase plans, the usual one first */ plans: readonly { key: string; name: string; words: string }[];
	/** who can sign a letter */ signing: SigningPeople;
}
