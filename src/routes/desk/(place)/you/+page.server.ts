import { loadYou, youActions } from '$lib/web/you-forms';

export const load = (event) => loadYou(event);

export const actions = youActions;
