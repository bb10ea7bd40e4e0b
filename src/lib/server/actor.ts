import { DomainError } from '$lib/core/errors/domain-error';
import type { IsoInstant } from '$lib/core/calendar/firm-calendar';
import { may, type Act, type Role } from '$lib/core/people/roles';
import { saying } from '$lib/words/sayings';

/** Who does something, when and from where. Every use case gets one. */
export interface Actor {
	kind: 'staff' | 'contact' | 'machine' | 'nobody';
	id: string | null;
	name: string;
	role: Role | null;
	now: IsoInstant;
	ip: string;
	userAgent: string;
}

export function machine(now: IsoInstant): Actor {
	return { kind: 'machine', id: null, name: 'Humble Lantern', role: null, now, ip: '', userAgent: '' };
}

export type Staff = Actor & { kind: 'staff'; id: string; role: Role };
export type ContactActor = Actor & { kind: 'contact'; id: string };

/**
 * @throws DomainError not_allowed unless the actor is staff whose role may do this
 */
export function requireStaff(actor: Actor, act: Act): asserts actor is Staff {
	if (actor.kind !== 'staff' || !actor.role || !may(actor.role, act))
		throw new DomainError('not_allowed', 'Your role does not allow this. An administrator of your firm can change that.');
}

/** @throws DomainError not_allowed unless a contact is signed in */
export function requireContact(actor: Actor): asserts actor is ContactActor {
	if (actor.kind !== 'contact' || !actor.id) throw new DomainError('not_allowed', saying('wrong.signedOut'));
}

/** @throws DomainError not_allowed unless it is somebody of the firm who may look, or a contact: whose things they see is the database's matter */
export function requireReader(actor: Actor): asserts actor is Staff | ContactActor {
	if (actor.kind === 'contact') requireContact(actor);
	else requireStaff(actor, 'look');
}
