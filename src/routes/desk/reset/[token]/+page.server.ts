import { doReset, loadReset } from '$lib/server/password-form';
import { deskDoor } from '$lib/server/sign-in-forms';

export const load = (event) => loadReset(event, 'staff');

export const actions = { default: async (event) => doReset(event, await deskDoor()) };
