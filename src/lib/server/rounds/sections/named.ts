import { readRemarks, type Remark } from '../../items/remarks';
import type { Tx } from '../../platform/db/database';
import { NAMING, readColleagues, readItemNotes, readNamingNote, type Note, type PlacedNote, type SeeingColleague } from '../../talk/notes';
import { readTalk } from '../../talk/words';
import { COUNTED, type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';

async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
	const notes = await tx.rows<{ id: string; words: string; since: string; client_id: string; client_name: string; by: string }>(
		`select n.id, n.words, t.told_at since, n.client_id, cl.name client_name, s.name as by
		from (select t.note_id, t.told_at from ${NAMING('$1')}) t join client_note n on n.id = t.note_id
			join client cl on cl.id = n.client_id join staff s on s.id = n.written_by_id
		order by t.told_at, n.number limit $2`,
		[at.reader, at.limit]
	);
	return notes.map((one) => ({
		key: `named-${one.id}`,
		clientId: one.client_id,
		clientName: one.client_name,
		since: one.since,
		words: `“${one.words}”`,
		aside: one.by
	}));
}

interface NamedLeaf {
	kind: 'named';
	note: PlacedNote;
	/** what was written where it stands, oldest first */
	words: Remark[];
	notes: Note[];
	colleagues: SeeingColleague[];
}

export const named: RoundsSectionDefinition<NamedLeaf> = {
	count: `select count(*) from ${NAMING(COUNTED.reader)}`,
	rows,
	leaf: {
		key: 'named',
		async read(tx, actor, _firm, id) {
			const note = await readNamingNote(tx, actor, id);
			const { clientId, itemId, contactId } = note;
			if (contactId) {
				const { words, notes, colleagues } = await readTalk(tx, actor, { clientId, contactId });
				return { kind: 'named', note, words, notes, colleagues };
			}
			return {
				kind: 'named',
				note,
				words: itemId ? await readRemarks(tx, actor, itemId) : [],
				notes: itemId ? await readItemNotes(tx, actor, itemId) : [note],
				colleagues: await readColleagues(tx, actor, clientId)
			};
		},
		clientOf: (leaf) => leaf.note.clientId
	}
};
