import { doReset, loadReset } from '$lib/server/password-form';
import { portalDoor } from '$lib/server/sign-in-forms';

export const load = (event) => loadReset(event, 'contact');

export const actions = { default: async (event) => doReset(event, await portalDoor(event)) };
