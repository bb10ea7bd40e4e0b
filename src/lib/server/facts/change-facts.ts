import { DomainError } from '$lib/core/errors/domain-error';
import { type FactForm } from '$lib/core/facts/fact-form';
import { factNameOf, type FactDefinition, type FactKind } from '$lib/core/facts/fact-definition';
import { factSchema, kindStays, mayBecome } from '$lib/core/facts/fact-values';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';
import { loadFacts, maySeeFact } from './firm-facts';

export interface FactRow extends FactDefinition {
	/** of how many clients it is known */
	clients: number;
	/** lists of the Library whose conditions or questions name it */
	lists: number;
}

/** What the firm wants to know of its clients, with where it is used; without what this person may not see. */
export async function readFactRows(tx: Tx, actor: Actor): Promise<FactRow[]> {
	requireStaff(actor, 'look');
	const facts = (await loadFacts(tx)).all.filter((fact) => !fact.mergedInto && maySeeFact(actor, fact));
	const used = await tx.rows<{ name: string; clients: number; lists: number }>(
		`select n.name, count_fact(n.name) clients,
			(select count(*)::int from request_list l where l.ended_at is null and l.lines::text like '%"fact": "' || n.name || '"%') lists
		from unnest($1::text[]) n (name)`,
		[facts.map(({ name }) => name)]
	);
	return facts.map((fact) => ({ ...fact, ...used.find(({ name }) => name === fact.name)! }));
}

/** A fact that somebody may see and change, held until the transaction ends. @throws DomainError not_found */
async function requireDefinition(tx: Tx, actor: Actor, name: string): Promise<FactDefinition> {
	await tx.rows('select 1 from fact_definition where name = $1 for update', [name]);
	const fact = (await loadFacts(tx)).all.find((one) => one.name === name);
	if (!fact || fact.mergedInto || !maySeeFact(actor, fact))
		throw new DomainError('not_found', 'This fact is not there any more. Load the page again.');
	return fact;
}

async function requireFreeLabel(tx: Tx, label: string, except: string | null): Promise<void> {
	const taken = await tx.first(
		'select 1 from fact_definition where lower(label) = lower($1) and name is distinct from $2 and retired_at is null and merged_into is null',
		[label, except]
	);
	if (taken) throw new DomainError('invalid', `There is a fact “${label}” already.`, { label: 'Another fact is called so.' });
}

/** Adds a fact that the firm wants to know of its clients. @returns its name, by which lists and letters refer to it */
export async function addFact(tx: Tx, actor: Actor, form: FactForm): Promise<string> {
	requireStaff(actor, 'keep_library');
	await tx.rows('select pg_advisory_xact_lock(hashtext($1))', [`facts of ${tx.firmId}`]);
	await requireFreeLabel(tx, form.label, null);
	const { all } = await loadFacts(tx);
	const name = factNameOf(form.label, (other) => all.some((fact) => fact.name === other));
	await tx.rows(
		`insert into fact_definition (firm_id, name, label, hint, heading, kind, client_may, seen_by, secret, confirm_after, position)
		select $1, $2, $3, $4, $5, $6, $7, $8, $9, $10, coalesce(max(position), 0) + 1 from fact_definition where firm_id = $1`,
		[tx.firmId, name, ...written(form)]
	);
	await recordEvent(tx, actor, { verb: 'fact_defined', details: { name: form.label } });
	return name;
}

const written = (form: FactForm): unknown[] => [
	form.label,
	form.hint,
	form.heading,
	JSON.stringify(form.is),
	form.clientMay,
	form.seenBy,
	form.secret,
	form.confirmAfter
];

/** Refuses a kind by which what is known could not be read any more. @throws DomainError invalid, at `is` */
async function requireReadable(tx: Tx, fact: FactDefinition, is: FactKind): Promise<void> {
	if (JSON.stringify(fact.is) === JSON.stringify(is)) return;
	const refuse = (why: string): never => {
		throw new DomainError('invalid', why, { is: why });
	};
	if (fact.readyMade) {
		if (fact.is.kind !== is.kind) refuse('This fact ships with the product, which reads it in one way. Make a new one instead.');
		if (fact.is.kind === 'choice' && is.kind === 'choice' && !fact.is.choices.every(({ key }) => is.choices.some((choice) => choice.key === key)))
			refuse('The choices that this fact came with stay. You can call them otherwise and add more.');
	}
	const values = (await tx.rows<{ value: string }>('select value from values_of_fact($1) value', [fact.name])).map(({ value }) => value);
	if (values.length === 0) return;
	if (!mayBecome(fact.is, is)) refuse(kindStays(fact.is));
	if (fact.is.kind === 'money' && is.kind === 'money' && fact.is.currency !== is.currency)
		refuse(`What is known are amounts in ${fact.is.currency}. Make a new fact for ${is.currency}, and retire this one.`);
	// numbers of phones read as themselves whatever the country
	const schema = factSchema({ is }, { country: '' });
	const broken = values.filter((value) => schema.safeParse(value).data !== value);
	if (broken.length > 0)
		refuse(
			`${broken.length === 1 ? 'A value that is known' : `${broken.length} values that are known`} would no longer fit, such as “${broken[0].slice(0, 60)}”. Leave room for ${broken.length === 1 ? 'it' : 'them'}, or correct ${broken.length === 1 ? 'it' : 'them'} first.`
		);
}

/** Changes a fact: what refers to it follows. @throws DomainError invalid if what is known could not be read any more */
export async function changeFact(tx: Tx, actor: Actor, name: string, form: FactForm): Promise<void> {
	requireStaff(actor, 'keep_library');
	const fact = await requireDefinition(tx, actor, name);
	if (!fact.retired) await requireFreeLabel(tx, form.label, name);
	await requireReadable(tx, fact, form.is);
	await tx.rows(
		'update fact_definition set label = $2, hint = $3, heading = $4, kind = $5, client_may = $6, seen_by = $7, secret = $8, confirm_after = $9 where name = $1',
		[name, ...written(form)]
	);
	await tx.rows('select search_fact_anew($1)', [name]);
	await recordEvent(tx, actor, {
		verb: 'fact_definition_changed',
		details: { name: fact.label === form.label ? form.label : `${fact.label} (now ${form.label})` }
	});
}

/** Keeps a fact and asks it no more, or takes it up again. Doing it twice changes nothing. */
export async function retireFact(tx: Tx, actor: Actor, name: string, retire: boolean): Promise<void> {
	requireStaff(actor, 'keep_library');
	const fact = await requireDefinition(tx, actor, name);
	if (fact.retired === retire) return;
	if (!retire) await requireFreeLabel(tx, fact.label, name);
	await tx.rows('update fact_definition set retired_at = $2 where name = $1', [name, retire ? actor.now : null]);
	await recordEvent(tx, actor, { verb: retire ? 'fact_retired' : 'fact_taken_up_again', details: { name: fact.label } });
}

/** Puts the facts into an order. @param names those that were seen, in their new order; others stay behind them */
export async function orderFacts(tx: Tx, actor: Actor, names: readonly string[]): Promise<void> {
	requireStaff(actor, 'keep_library');
	await tx.rows(
		`update fact_definition d set position = o.place from (
			select name, row_number() over (order by array_position($2::text[], name), position, name)::int place from fact_definition where firm_id = $1
		) o where d.firm_id = $1 and o.name = d.name and d.position <> o.place`,
		[tx.firmId, names]
	);
}

export interface FactMergePreview {
	from: { name: string; label: string };
	into: { name: string; label: string };
	/** clients of whom only the first is known: it moves over */
	onlyFrom: number;
	/** of whom both say the same */
	alike: number;
	/** of whom they differ: the second stays, the first becomes its history */
	differ: number;
	lists: number;
}

/** Two facts that may become one, and the choices that the second one gets by it. @throws DomainError invalid saying why not */
async function requireMergeable(
	tx: Tx,
	actor: Actor,
	fromName: string,
	intoName: string
): Promise<{ from: FactDefinition; into: FactDefinition; is: FactKind }> {
	requireStaff(actor, 'close_client');
	// in one order, so that two merges do not wait for each other
	for (const name of [fromName, intoName].sort()) await requireDefinition(tx, actor, name);
	const [from, into] = [await requireDefinition(tx, actor, fromName), await requireDefinition(tx, actor, intoName)];
	if (from.name === into.name) throw new DomainError('invalid', 'These are one and the same already.');
	if (from.readyMade)
		throw new DomainError('invalid', `“${from.label}” ships with the product, which needs it. Merge the other one into it instead, or retire it.`);
	if (from.secret && !into.secret)
		throw new DomainError('invalid', `“${from.label}” is kept secret and “${into.label}” is not. Make both secret first.`);
	let { is } = into;
	if ('choices' in from.is && 'choices' in into.is && from.is.kind === into.is.kind) {
		const { choices } = into.is;
		const added = from.is.choices.filter(({ key }) => !choices.some((choice) => choice.key === key));
		is = { ...into.is, choices: [...choices, ...added] };
	}
	if (!mayBecome(from.is, is))
		throw new DomainError('invalid', `“${from.label}” and “${into.label}” are not written down in the same way, so they stay two.`);
	const values = await tx.rows<{ value: string }>('select value from values_of_fact($1) value', [from.name]);
	const schema = factSchema({ is }, { country: '' });
	const broken = values.find(({ value }) => schema.safeParse(value).data !== value);
	if (broken || (from.is.kind === 'money' && is.kind === 'money' && from.is.currency !== is.currency))
		throw new DomainError(
			'invalid',
			`What is known as “${from.label}” does not fit “${into.label}”${broken ? `, such as “${broken.value.slice(0, 60)}”` : ''}, so they stay two.`
		);
	return { from, into, is };
}

/** What merging one fact into another would do. Nothing is changed. */
export async function previewFactMerge(tx: Tx, actor: Actor, fromName: string, intoName: string): Promise<FactMergePreview> {
	const { from, into } = await requireMergeable(tx, actor, fromName, intoName);
	const counts = (await tx.first<Omit<FactMergePreview, 'from' | 'into'>>(
		`select c.only_from as "onlyFrom", c.alike, c.differ,
			(select count(*)::int from request_list l where l.ended_at is null and l.lines::text like '%"fact": "' || $1::text || '"%') lists
		from compare_facts($1, $2) c`,
		[from.name, into.name]
	))!;
	return { from: { name: from.name, label: from.label }, into: { name: into.name, label: into.label }, ...counts };
}

/** Merges one fact into another, over all clients: lists, letters and questions that name the first mean the second from now on. */
export async function mergeFacts(tx: Tx, actor: Actor, fromName: string, intoName: string): Promise<void> {
	const { from, into, is } = await requireMergeable(tx, actor, fromName, intoName);
	await tx.rows('update fact_definition set kind = $2 where name = $1', [into.name, JSON.stringify(is)]);
	await tx.rows('select merge_facts($1, $2, $3)', [from.name, into.name, actor.now]);
	await tx.rows('update fact_definition set merged_into = $2 where name = $1', [from.name, into.name]);
	await tx.rows('select search_fact_anew($1)', [into.name]);
	await recordEvent(tx, actor, { verb: 'facts_merged', details: { name: from.label, into: into.label } });
}
