import { error, redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { addDays, addToInstant, localDate, localInstant, onOrAfterBusinessDay } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff } from '$lib/server/actor';
import { beginMovingClock, isClockMoving } from '$lib/server/platform/demo-clock';
import { enqueue } from '$lib/server/platform/queue';
import { deskRequest } from '$lib/web/desk-request';
import { inForm } from '$lib/web/form-errors';

const moveSchema = z.object({ by: z.enum(['next_morning', 'hour', 'week']) });
const PATIENCE_MS = 90_000;

export const load = () => redirect(303, '/desk/rounds');

/** Moves the demo's clock forward; the worker does what falls due on the way. Outside the demo it does not exist. */
export const actions = {
	default: async (event) => {
		const desk = await deskRequest(event);
		if (!desk.context.settings.DEMO) error(404, 'There is nothing here.');
		const form = await event.request.formData();
		return inForm(form, async () => {
			requireStaff(desk.actor, 'move_demo_clock');
			const { by } = moveSchema.parse(Object.fromEntries(form));
			const { now } = desk.actor;
			const to = await desk.inFirm(async (_tx, firm) =>
				by === 'hour'
					? addToInstant(now, { hours: 1 })
					: by === 'week'
						? addToInstant(now, { hours: 24 * 7 })
						: addToInstant(localInstant(onOrAfterBusinessDay(addDays(localDate(now, firm.calendar), 1), firm.calendar), '09:00', firm.calendar), {
								seconds: 1
							})
			);
			const { db } = desk.context;
			if (!(await beginMovingClock(db, to))) throw new DomainError('changed_meanwhile', 'The clock is moving already. Please wait a moment.');
			await enqueue(db, 'move_demo_clock', { to });
			const patience = Date.now() + PATIENCE_MS;
			while (await isClockMoving(db)) {
				if (Date.now() > patience)
					throw new DomainError('changed_meanwhile', 'The worker is still busy with the time between. The screens follow by themselves.');
				await new Promise((resolve) => setTimeout(resolve, 150));
			}
			await desk.context.refreshClock();
		});
	}
};
