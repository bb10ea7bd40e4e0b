import { deskDoor, doSecond, loadSecond } from '$lib/web/sign-in-forms';

export const load = async (event) => loadSecond(event, await deskDoor());

export const actions = { default: async (event) => doSecond(event, await deskDoor()) };
