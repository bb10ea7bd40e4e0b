import { redirect } from '@sveltejs/kit';
import { doSignIn, portalDoor } from '$lib/web/sign-in-forms';

export const load = ({ locals, params }) => {
	if (locals.signedIn) redirect(303, `/portal/${params.firm}`);
};

export const actions = { default: async (event) => doSignIn(event, await portalDoor(event)) };
