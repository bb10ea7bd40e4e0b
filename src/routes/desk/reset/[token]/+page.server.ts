import { doReset, loadReset } from '$lib/web/password-form';
import { deskDoor } from '$lib/web/sign-in-forms';

export const load = (event) => loadReset(event, 'staff');

export const actions = { default: async (event) => doReset(event, await deskDoor()) };
