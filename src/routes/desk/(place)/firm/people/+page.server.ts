import { z } from 'zod';
import { ACT_WORDS, ACTS, may, ROLES } from '$lib/core/people/roles';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import {
	addStaff,
	changeRole,
	changeSecondStepRule,
	clearStaffSecondStep,
	inviteStaffAgain,
	readPeopleOfFirm,
	readSecondStepRule,
	signOutStaff,
	staffSchema,
	suspendStaff
} from '$lib/server/people/staff';
import { endGroup, groupSchema, readGroups, writeGroup } from '$lib/server/people/groups';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.read(async (tx, firm) => ({
		people: (await readPeopleOfFirm(tx, desk.actor)).map((person) => ({
			...person,
			lastUsedAt: person.lastUsedAt && timeWords(firm.locale, person.lastUsedAt, firm.calendar.timeZone)
		})),
		rule: await readSecondStepRule(tx),
		groups: await readGroups(tx),
		me: desk.actor.id,
		maySetUp: may(desk.actor.role, 'set_up_firm'),
		roles: ROLES,
		acts: ACTS.filter((act) => act !== 'move_demo_clock' || desk.context.settings.DEMO).map((act) => ({
			words: ACT_WORDS[act],
			by: ROLES.map((role) => may(role, act))
		}))
	}));
};

const staffId = (form: FormData) => idParam(String(form.get('staffId') ?? ''));
const roleSchema = z.enum(ROLES, 'Choose a role.');

export const actions = {
	add: (event) => deskForm(event, (tx, desk, form) => addStaff(tx, desk.actor, staffSchema.parse(Object.fromEntries(form)))),
	sendAgain: (event) => deskForm(event, (tx, desk, form) => inviteStaffAgain(tx, desk.actor, staffId(form))),
	changeRole: (event) =>
		deskForm(event, (tx, desk, form) => changeRole(tx, desk.actor, { staffId: staffId(form), role: roleSchema.parse(form.get('role')) })),
	signOut: (event) => deskForm(event, (tx, desk, form) => signOutStaff(tx, desk.actor, staffId(form))),
	clearSecondStep: (event) => deskForm(event, (tx, desk, form) => clearStaffSecondStep(tx, desk.actor, staffId(form))),
	suspend: (event) =>
		deskForm(event, (tx, desk, form) => suspendStaff(tx, desk.actor, { staffId: staffId(form), suspend: form.get('suspend') === 'yes' })),
	writeGroup: (event) =>
		deskForm(event, (tx, desk, form) =>
			writeGroup(
				tx,
				desk.actor,
				form.get('groupId') ? idParam(String(form.get('groupId'))) : null,
				groupSchema.parse({ name: form.get('name') ?? '', members: form.getAll('member') })
			)
		),
	endGroup: (event) => deskForm(event, (tx, desk, form) => endGroup(tx, desk.actor, idParam(String(form.get('groupId') ?? '')))),
	changeRule: (event) =>
		deskForm(event, (tx, desk, form) => changeSecondStepRule(tx, desk.actor, { staff: form.has('staff'), contacts: form.has('contacts') }))
};
