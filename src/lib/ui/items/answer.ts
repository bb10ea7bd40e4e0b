import type { Attachment } from 'svelte/attachments';
import type { ItemKind } from '$lib/core/items/item-kinds';
import type { TypedValue } from '$lib/core/requests/typed';
import type { KnownAnswer } from '$lib/server/item-kinds/kinds/questions-for-client';
import type { ItemOf } from '$lib/server/items/read-items';
import type { Passed } from '$lib/server/items/passing-on';
import type { Remark } from '$lib/server/items/remarks';
import type { FormHandling } from '../forms/enhanced-form';

/** What the part of a client's page gets on which an item of a kind is answered, or read once it is. */
export interface AnswerProps<Kind extends ItemKind> {
	item: ItemOf<Kind>;
	/** can be answered now */ open: boolean;
	remarks: Remark[];
	locale: string;
	brand: { name: string; timeZone: string };
	/** address of the client's first page */ home: string;
	/** address under which the firm's files are found */ filesAt: string;
	/** instant */ now: string;
	handling: FormHandling;
	pending: boolean;
	onProblem: (problem: { message: string; fields: Record<string, string> }) => void;
	/** what is wrong with which field */ fields: Record<string, string>;
	/** keeps what is typed into a form whose fields have this prefix; undefined where the page is only a preview */
	keeping: (prefix: string) => Attachment<HTMLFormElement> | undefined;
	/** what was typed into a field and not sent */ typed: (name: string) => TypedValue | undefined;
	/** what the firm knows already, by question */ known: Readonly<Record<string, KnownAnswer>>;
	/** whoever reads it, and whether it is asked of them */ reader: { name: string; isAsked: boolean };
	/** what was passed on to others of the client; empty for kinds that are not */ passed: readonly Passed[];
	/** begins to ask somebody else for an answer; left out where nobody can be asked */ passOn?: (key: string) => void;
	/** begins a question of their own about something; left out where nothing can be written */ askAbout?: (what: string) => void;
	/** the act that was refused, where no scripts run */ refused: string | null;
}

/** The firm's name as it stands on a button. */
export const shortFirm = (name: string): string => name.split(' ').slice(0, 2).join(' ');
