import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { deskForm } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { finishTask, giveTask } from '$lib/server/tasks/tasks';

export const load = (event) => redirect(303, `/desk/rounds/task-${idParam(event.params.task)}`);

const staffField = z.uuid('Choose somebody of the firm.');

export const actions = {
	finish: (event) => deskForm(event, (tx, desk) => finishTask(tx, desk.actor, idParam(event.params.task))),
	give: (event) => deskForm(event, (tx, desk, form) => giveTask(tx, desk.actor, idParam(event.params.task), staffField.parse(form.get('staffId'))))
};
