import { TOLD_KINDS, tellingSchema, type Telling } from '$lib/core/telling/telling';

/** How somebody is told, as a form gives it; what its sender cannot be told of, and so is not asked, stays as it is. */
export function typedTelling(form: FormData, before: Telling): Telling {
	const field = (name: string) => form.get(name) ?? undefined;
	return tellingSchema.parse({
		whose: field('whose'),
		summary: field('summary'),
		time: field('time') ?? before.time,
		weekday: field('weekday') ?? before.weekday,
		kinds: Object.fromEntries(TOLD_KINDS.map(({ kind }) => [kind, field(kind) ?? before.kinds[kind]]))
	});
}
