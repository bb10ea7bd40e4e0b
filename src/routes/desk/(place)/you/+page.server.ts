import { doYou, loadYou } from '$lib/web/you-forms';

export const load = (event) => loadYou(event);

export const actions = {
	beginAuthenticator: (event) => doYou(event, 'beginAuthenticator'),
	confirmAuthenticator: (event) => doYou(event, 'confirmAuthenticator'),
	removeAuthenticator: (event) => doYou(event, 'removeAuthenticator'),
	beginText: (event) => doYou(event, 'beginText'),
	confirmText: (event) => doYou(event, 'confirmText'),
	removeText: (event) => doYou(event, 'removeText'),
	beginPasskey: (event) => doYou(event, 'beginPasskey'),
	keepPasskey: (event) => doYou(event, 'keepPasskey'),
	removePasskey: (event) => doYou(event, 'removePasskey'),
	newCodes: (event) => doYou(event, 'newCodes'),
	changePassword: (event) => doYou(event, 'changePassword'),
	endSession: (event) => doYou(event, 'endSession')
};
