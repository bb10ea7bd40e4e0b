import { doReset, loadReset } from '$lib/web/password-form';
import { portalDoor } from '$lib/web/sign-in-forms';

export const load = (event) => loadReset(event, 'contact');

export const actions = { default: async (event) => doReset(event, await portalDoor(event)) };
