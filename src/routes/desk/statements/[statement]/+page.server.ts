import { redirect } from '@sveltejs/kit';
import { explanationField, putRightSchema } from '$lib/core/statements/put-right';
import { explainStatement, putRightStatement } from '$lib/server/statements/put-right';
import { deskForm } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';

export const load = (event) => {
	idParam(event.params.statement);
	redirect(303, '/desk/clients/statements');
};

export const actions = {
	putRight: (event) =>
		deskForm(event, (tx, desk, form) =>
			putRightStatement(tx, desk.actor, idParam(event.params.statement), putRightSchema.parse(Object.fromEntries(form)))
		),
	explain: (event) =>
		deskForm(event, (tx, desk, form) =>
			explainStatement(tx, desk.actor, idParam(event.params.statement), explanationField.parse(form.get('words') ?? ''))
		)
};
