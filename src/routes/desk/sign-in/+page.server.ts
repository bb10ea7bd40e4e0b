import { redirect } from '@sveltejs/kit';
import { hasFirm } from '$lib/server/set-up/set-up-firm';
import { deskDoor, doSignIn } from '$lib/web/sign-in-forms';
import { webContext } from '$lib/web/web-context';

export const load = async ({ locals }) => {
	if (locals.signedIn) redirect(303, '/desk/rounds');
	if (!(await hasFirm((await webContext()).db))) redirect(303, '/desk/set-up');
};

export const actions = { default: async (event) => doSignIn(event, await deskDoor()) };
