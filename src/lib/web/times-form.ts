import { theirTimesForm } from '$lib/core/calendar/their-times';
import type { ChosenTimes } from '$lib/server/chasing/their-times';

/** What was typed about when somebody is written to. @throws ZodError with what is wrong, by field */
export const readTimesForm = (form: FormData): ChosenTimes => ({
	times: theirTimesForm.parse({ ...Object.fromEntries(form), quietDays: form.getAll('quietDays').slice(0, 8) }),
	asRead: String(form.get('asRead') ?? '')
});
