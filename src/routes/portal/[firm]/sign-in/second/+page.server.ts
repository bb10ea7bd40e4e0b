import { doSecond, loadSecond, portalDoor } from '$lib/web/sign-in-forms';

export const load = async (event) => loadSecond(event, await portalDoor(event));

export const actions = { default: async (event) => doSecond(event, await portalDoor(event)) };
