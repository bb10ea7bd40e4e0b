import type { FirmFacts } from '../../facts/fact-definition';
import type { Language } from '../../people/languages';
import { bareName } from '../likeness';
import { NameIndex } from './name-index';
import type { KnownClient, KnownWorld, Target } from './plan-import';

export interface ClientNow extends Omit<KnownClient, 'id' | 'serviceIds'> {
	target: Target;
	serviceIds: Set<string>;
	people: PersonNow[];
}
export interface PersonNow {
	target: Target;
	name: string;
	email: string | null;
	phone: string | null;
	/** null where it is the firm's choice for its clients */
	language: Language | null;
	hasAccess: boolean;
	roles: Map<ClientNow, string>;
}

export interface World {
	facts: FirmFacts;
	staffNames: Map<string, string>;
	serviceNames: Map<string, string>;
	defaultResponsibleId: string;
	byId: Map<string, ClientNow>;
	byName: Map<string, ClientNow[]>;
	byTaxNumber: Map<string, ClientNow>;
	byLine: Map<number, ClientNow>;
	/** in the order of the index's numbers */
	all: ClientNow[];
	likeNames: NameIndex;
	byEmail: Map<string, PersonNow>;
	byPhone: Map<string, PersonNow[]>;
}

export const nameKey = (name: string) => name.toLowerCase().replace(/\s+/g, ' ');
export const numberKey = (number: string) => number.toLowerCase().replace(/[^\p{Letter}\p{Number}]/gu, '');

export function openWorld(known: KnownWorld, facts: FirmFacts): World {
	const world: World = {
		facts,
		staffNames: new Map(known.staff.map((s) => [s.id, s.name])),
		serviceNames: new Map(known.services.map((s) => [s.id, s.name])),
		defaultResponsibleId: known.defaultResponsibleId,
		byId: new Map(),
		byName: new Map(),
		byTaxNumber: new Map(),
		byLine: new Map(),
		all: [],
		likeNames: new NameIndex(),
		byEmail: new Map(),
		byPhone: new Map()
	};
	for (const client of known.clients) {
		const now: ClientNow = { ...client, target: { id: client.id }, facts: { ...client.facts }, serviceIds: new Set(client.serviceIds), people: [] };
		world.byId.set(client.id, now);
		addClientTo(world, now);
	}
	for (const person of known.people) {
		const now: PersonNow = { ...person, target: { id: person.id }, roles: new Map() };
		for (const { clientId, role } of person.at) {
			const client = world.byId.get(clientId);
			if (!client) continue;
			now.roles.set(client, role);
			client.people.push(now);
		}
		addPersonTo(world, now);
	}
	return world;
}

export function addClientTo(world: World, client: ClientNow): void {
	const key = nameKey(client.name);
	world.byName.set(key, [...(world.byName.get(key) ?? []), client]);
	if (client.facts.tax_number) world.byTaxNumber.set(numberKey(client.facts.tax_number), client);
	world.likeNames.add(bareName(client.name));
	world.all.push(client);
}

export function addPersonTo(world: World, person: PersonNow): void {
	if (person.email) world.byEmail.set(person.email.toLowerCase(), person);
	if (person.phone) world.byPhone.set(person.phone, [...(world.byPhone.get(person.phone) ?? []), person]);
}
