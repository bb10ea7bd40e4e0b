import { doReset, loadReset } from '$lib/server/password-form';

export const load = (event) => loadReset(event, 'staff');

export const actions = { default: (event) => doReset(event, { kind: 'staff', locale: 'en', home: '/desk/rounds' }) };
