import { redirect } from '@sveltejs/kit';
import { loadYou, youActions } from '$lib/web/you-forms';

export const load = (event) => {
	// whoever only looks at somebody's page does not see how they sign in
	if (event.locals.signedIn?.lookedAtBy) redirect(303, `/portal/${event.params.firm}`);
	return loadYou(event);
};

export const actions = youActions;
