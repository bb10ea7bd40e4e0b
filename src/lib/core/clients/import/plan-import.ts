import { z } from 'zod';
import { LANGUAGES, type Language } from '../../people/languages';
import { CLIENT_KINDS } from '../client-form';
import { firmFacts, type FactDefinition } from '../../facts/fact-definition';
import { bareName, differByNumber } from '../likeness';
import { columnLabel, type ImportColumn } from './columns';
import type { FileRow } from '../../tables/read-rows';
import { likeness } from './name-index';
import { addClientTo, addPersonTo, nameKey, numberKey, openWorld, type ClientNow, type PersonNow, type World } from './open-world';
import { rowParser, type ParsedRow } from './parse-rows';

export type ClientKind = (typeof CLIENT_KINDS)[number];

/** What is known before a list is imported. */
export interface KnownWorld {
	/** where a phone number without a country code belongs (ISO 3166-1 alpha-2) */
	country: string;
	/** who looks after new clients for whom the list names nobody */
	defaultResponsibleId: string;
	staff: { id: string; name: string; email: string }[];
	services: { id: string; name: string }[];
	/** what the firm wants to know, in the order of the record */
	facts: FactDefinition[];
	clients: KnownClient[];
	people: KnownPerson[];
}
export interface KnownClient {
	id: string;
	name: string;
	kind: ClientKind;
	responsibleId: string;
	facts: Record<string, string>;
	/** services of the engagements that go on */
	serviceIds: string[];
}
export interface KnownPerson {
	id: string;
	name: string;
	email: string | null;
	phone: string | null;
	language: Language;
	/** has chosen a password: their address is how they come in */
	hasAccess: boolean;
	at: { clientId: string; role: string }[];
}

/**
 * What a person decided about a row: leave it out, it is somebody new, it is none of the clients we have (but the same as a row above it
 * of exactly its name), it is a client we have, or the client of an earlier row.
 */
export const decisionSchema = z.union([
	z.literal('skip'),
	z.literal('new'),
	z.literal('not_ours'),
	z.string().regex(/^(client:[0-9a-f-]{36}|row:\d{1,5})$/)
]);
export type Decision = z.infer<typeof decisionSchema>;

export const ROW_OUTCOMES = ['wrong', 'ask', 'create', 'update', 'same', 'skip'] as const;
export type RowOutcome = (typeof ROW_OUTCOMES)[number];

/** Somebody or something that is there already (its id) or is made by a row of the list (its line). */
export type Target = { id: string } | { line: number };

export interface RowPlan {
	line: number;
	outcome: RowOutcome;
	/** the message may be a key of the catalogue, as schemas of what clients write too name them */
	problems: { column: ImportColumn | null; message: string; maximum?: number }[];
	/** clients that this may be, each with the decision that says so */
	likely: { decision: Decision; name: string; why: string }[];
	/** what will be different, in words */
	changes: { label: string; from: string | null; to: string }[];
	/** what is said besides, such as whose address this is */
	remark: string | null;
	client: Target | null;
	newClient: { name: string; kind: ClientKind; responsibleId: string } | null;
	setClient: { name?: string; kind?: ClientKind; responsibleId?: string } | null;
	facts: { name: string; value: string }[];
	/** services not yet done for the client: they begin a new engagement */
	serviceIds: string[];
	person: Target | null;
	newPerson: { name: string; email: string | null; phone: string | null; language: Language | null } | null;
	setPerson: { name?: string; email?: string; phone?: string; language?: Language } | null;
	/** the role of a new link between person and client */
	link: { role: string } | null;
	setRole: string | null;
}

export interface ImportPlan {
	rows: RowPlan[];
	counts: Record<RowOutcome, number> & { newClients: number; newPeople: number; withoutAddress: number };
}

/** Names this alike are shown as perhaps the same; the same bound as while a name is typed. */
const LIKE = 0.5;
/** With a shared address or phone number, less is enough. */
const LIKE_WITH_SHARED = 0.3;
const LIKELY_SHOWN = 3;

/**
 * Says what importing each row of a list would do. Empty cells change nothing. Rows build on the rows before them:
 * two rows with one client's name are two people of one client.
 * @param columns what each position holds, as recognised or chosen
 * @param decisions by line
 */
export function planImport(
	rows: readonly FileRow[],
	columns: readonly (ImportColumn | null)[],
	known: KnownWorld,
	decisions: ReadonlyMap<number, Decision>
): ImportPlan {
	const facts = firmFacts(known.facts);
	const parse = rowParser(columns, known, facts);
	const world = openWorld(known, facts);
	const plans = rows.map((row) => planRow(row, parse(row), world, decisions.get(row.line) ?? null));
	const counts = { wrong: 0, ask: 0, create: 0, update: 0, same: 0, skip: 0, newClients: 0, newPeople: 0, withoutAddress: 0 };
	for (const plan of plans) {
		counts[plan.outcome]++;
		if (plan.outcome !== 'create' && plan.outcome !== 'update') continue;
		if (plan.newClient) counts.newClients++;
		if (plan.newPerson) counts.newPeople++;
		if (plan.newPerson && !plan.newPerson.email) counts.withoutAddress++;
	}
	return { rows: plans, counts };
}

function planRow(row: FileRow, parsed: ParsedRow, world: World, decision: Decision | null): RowPlan {
	const plan: RowPlan = {
		line: row.line,
		outcome: 'same',
		problems: parsed.problems,
		likely: [],
		changes: [],
		remark: null,
		client: null,
		newClient: null,
		setClient: null,
		facts: [],
		serviceIds: [],
		person: null,
		newPerson: null,
		setPerson: null,
		link: null,
		setRole: null
	};
	if (decision === 'skip') return { ...plan, outcome: 'skip' };
	const found = findClient(parsed, world, decision, plan);
	const holder = parsed.person && findPerson(parsed.person, found, world, plan);
	if (plan.problems.length > 0) return { ...plan, outcome: 'wrong' };
	if (plan.likely.length > 0) return { ...plan, outcome: 'ask' };

	const client = found ?? makeClient(row, parsed, world, plan);
	plan.client = client.target;
	if (found) changeClient(parsed, found, world, plan);
	saveFacts(parsed, client, world, plan);
	if (parsed.person) settlePerson(row, parsed.person, holder, client, world, plan);
	plan.outcome = plan.newClient ? 'create' : plan.changes.length > 0 ? 'update' : 'same';
	return plan;
}

/** The client of a row, by its record number, a decision, its name or its tax number; null for a new one. Doubt is written into the plan. */
function findClient(parsed: ParsedRow, world: World, decision: Decision | null, plan: RowPlan): ClientNow | null {
	if (parsed.record) {
		const client = world.byId.get(parsed.record.toLowerCase());
		if (!client) plan.problems.push({ column: 'record', message: 'No client has this record number. Empty the cell to add a new one.' });
		return client ?? null;
	}
	if (decision === 'new') return null;
	if (decision && decision !== 'not_ours') {
		const [kind, key] = decision.split(':');
		const client = kind === 'client' ? world.byId.get(key) : world.byLine.get(Number(key));
		if (client) return client;
	}
	const taxNumber = parsed.facts.find((fact) => fact.name === 'tax_number')?.value;
	const byNumber = taxNumber ? world.byTaxNumber.get(numberKey(taxNumber)) : undefined;
	const byName = world.byName.get(nameKey(parsed.client)) ?? [];
	const contradicts = (client: ClientNow) =>
		taxNumber !== undefined && client.facts.tax_number !== undefined && numberKey(client.facts.tax_number) !== numberKey(taxNumber);
	const same = byName.filter((client) => !contradicts(client));
	if (decision === 'not_ours') return same.find((client) => 'line' in client.target) ?? null;
	if (same.length === 1 && (!byNumber || byNumber === same[0])) return same[0];

	const perhaps = new Map<ClientNow, string>();
	if (byNumber) perhaps.set(byNumber, 'has the same tax number');
	for (const client of same) perhaps.set(client, 'has the same name');
	for (const client of byName) if (!perhaps.has(client)) perhaps.set(client, 'has the same name and another tax number');
	const typed = bareName(parsed.client);
	const shared = new Map<ClientNow, string>();
	if (parsed.person?.email)
		for (const client of world.byEmail.get(parsed.person.email.toLowerCase())?.roles.keys() ?? []) shared.set(client, 'the same e-mail address');
	if (parsed.person?.phone)
		for (const person of world.byPhone.get(parsed.person.phone) ?? [])
			for (const client of person.roles.keys()) shared.set(client, 'the same phone number');
	for (const { number } of world.likeNames.like(typed, LIKE)) {
		const client = world.all[number];
		if (perhaps.has(client) || (differByNumber(typed, bareName(client.name)) && !shared.has(client))) continue;
		const common = shared.get(client);
		perhaps.set(client, bareName(client.name) === typed ? 'has the same name' : common ? `has a name like it and ${common}` : 'has a similar name');
	}
	for (const [client, common] of shared)
		if (!perhaps.has(client) && likeness(typed, bareName(client.name)) >= LIKE_WITH_SHARED) perhaps.set(client, `has a name like it and ${common}`);
	for (const [client, why] of [...perhaps].slice(0, LIKELY_SHOWN))
		plan.likely.push({ decision: 'id' in client.target ? `client:${client.target.id}` : `row:${client.target.line}`, name: client.name, why });
	return null;
}

function makeClient(row: FileRow, parsed: ParsedRow, world: World, plan: RowPlan): ClientNow {
	const made = { name: parsed.client, kind: parsed.kind ?? ('business' as const), responsibleId: parsed.responsibleId ?? world.defaultResponsibleId };
	plan.newClient = made;
	const client: ClientNow = { ...made, target: { line: row.line }, facts: {}, serviceIds: new Set(), people: [] };
	world.byLine.set(row.line, client);
	// the tax number is known from here on, the other facts follow
	const taxNumber = parsed.facts.find((fact) => fact.name === 'tax_number')?.value;
	if (taxNumber) world.byTaxNumber.set(numberKey(taxNumber), client);
	addClientTo(world, client);
	return client;
}

function changeClient(parsed: ParsedRow, client: ClientNow, world: World, plan: RowPlan): void {
	const set: NonNullable<RowPlan['setClient']> = {};
	const note = (label: string, from: string, to: string) => plan.changes.push({ label, from, to });
	// a name is only changed where the row says which client it means
	if (parsed.record && parsed.client && parsed.client !== client.name) {
		note('Name', client.name, parsed.client);
		set.name = parsed.client;
	}
	if (parsed.kind && parsed.kind !== client.kind) {
		note('Kind', client.kind, parsed.kind);
		set.kind = parsed.kind;
	}
	if (parsed.responsibleId && parsed.responsibleId !== client.responsibleId) {
		note('Looked after by', world.staffNames.get(client.responsibleId) ?? '', world.staffNames.get(parsed.responsibleId) ?? '');
		set.responsibleId = parsed.responsibleId;
	}
	if (Object.keys(set).length === 0) return;
	Object.assign(client, set);
	plan.setClient = set;
}

function saveFacts(parsed: ParsedRow, client: ClientNow, world: World, plan: RowPlan): void {
	for (const { name, value } of parsed.facts) {
		if (client.facts[name] === value) continue;
		plan.changes.push({ label: columnLabel(name, world.facts), from: client.facts[name] ?? null, to: value });
		plan.facts.push({ name, value });
		client.facts[name] = value;
	}
	for (const id of new Set(parsed.serviceIds)) {
		if (client.serviceIds.has(id)) continue;
		plan.changes.push({ label: 'Service', from: null, to: world.serviceNames.get(id) ?? '' });
		plan.serviceIds.push(id);
		client.serviceIds.add(id);
	}
}

/** The person of a row, by address, else among the people of the client by name or phone; null for a new one. */
function findPerson(person: NonNullable<ParsedRow['person']>, client: ClientNow | null, world: World, plan: RowPlan): PersonNow | null {
	const holder = person.email ? world.byEmail.get(person.email.toLowerCase()) : undefined;
	if (holder) {
		if (nameKey(holder.name) !== nameKey(person.name) && nameKey(person.name) !== person.email?.toLowerCase() && 'line' in holder.target)
			plan.problems.push({
				column: 'email',
				message: `Row ${holder.target.line} gives this address to ${holder.name}. Each person needs one of their own.`
			});
		return holder;
	}
	const namesake = client?.people.find(
		(other) => nameKey(other.name) === nameKey(person.name) || (person.phone !== null && other.phone === person.phone)
	);
	if (namesake?.hasAccess && person.email && namesake.email?.toLowerCase() !== person.email.toLowerCase())
		plan.problems.push({
			column: 'email',
			message: `${namesake.name} signs in with ${namesake.email}. A list does not change that; change it in the record, or take the address out here.`
		});
	return namesake ?? null;
}

function settlePerson(
	row: FileRow,
	typed: NonNullable<ParsedRow['person']>,
	holder: PersonNow | null,
	client: ClientNow,
	world: World,
	plan: RowPlan
): void {
	let person = holder;
	if (!person) {
		plan.newPerson = { name: typed.name, email: typed.email, phone: typed.phone, language: typed.language };
		person = { ...plan.newPerson, target: { line: row.line }, hasAccess: false, roles: new Map() };
		addPersonTo(world, person);
		plan.changes.push({ label: 'Person', from: null, to: typed.email && typed.email !== typed.name ? `${typed.name}, ${typed.email}` : typed.name });
	} else {
		const set: NonNullable<RowPlan['setPerson']> = {};
		if (typed.name !== person.name && nameKey(typed.name) !== typed.email?.toLowerCase()) {
			plan.changes.push({ label: 'Contact', from: person.name, to: typed.name });
			set.name = typed.name;
		}
		if (typed.email && typed.email.toLowerCase() !== person.email?.toLowerCase()) {
			plan.changes.push({ label: 'E-mail', from: person.email, to: typed.email });
			set.email = typed.email;
		}
		if (typed.phone && typed.phone !== person.phone) {
			plan.changes.push({ label: 'Phone', from: person.phone, to: typed.phone });
			set.phone = typed.phone;
		}
		if (typed.language && typed.language !== person.language) {
			plan.changes.push({ label: 'Language', from: person.language && LANGUAGES[person.language], to: LANGUAGES[typed.language] });
			set.language = typed.language;
		}
		if (Object.keys(set).length > 0) {
			plan.setPerson = set;
			Object.assign(person, set);
			addPersonTo(world, person);
		}
	}
	plan.person = person.target;
	const role = person.roles.get(client);
	if (role === undefined) {
		if (person.roles.size > 0)
			plan.remark = `${person.name} belongs to ${[...person.roles.keys()].map((c) => c.name).join(', ')} too: one sign-in for all`;
		if (holder) plan.changes.push({ label: 'Person', from: null, to: person.name });
		plan.link = { role: typed.role ?? '' };
		person.roles.set(client, plan.link.role);
		client.people.push(person);
	} else if (typed.role && typed.role !== role) {
		plan.changes.push({ label: 'Role', from: role || null, to: typed.role });
		plan.setRole = typed.role;
		person.roles.set(client, typed.role);
	}
}
