import type { RouteId } from '$app/types';

/**
 * The routes whose body is one file and not a form: they measure it themselves, so the limits of forms do not apply to them.
 * `takeInFile` accepts no other route, so the compiler finds one that is missing here.
 */
const FILE_ROUTES = [
	'/portal/[firm]/(page)/item/[item]/papers',
	'/portal/[firm]/(page)/send/papers',
	'/portal/[firm]/answer/[page]/sent/[receipt]/papers',
	'/desk/attachments',
	'/desk/(place)/clients/import/file',
	'/desk/(place)/clients/[client]/transactions/file',
	'/desk/(place)/clients/[client]/papers/given/papers'
] as const satisfies readonly RouteId[];

export type FileRoute = (typeof FILE_ROUTES)[number];

/** Whether the body of a request to this route is a file. */
export const takesFile = (route: string | null): boolean => FILE_ROUTES.some((one) => one === route);

/** The one form that carries files, for browsers without scripts. */
const FORM_WITH_FILES = { route: '/portal/[firm]/(page)/item/[item]' satisfies RouteId, action: '?/add' };

/** Whether a request sends the form that carries files. */
export const isFormWithFiles = (event: { route: { id: string | null }; url: URL }): boolean =>
	event.route.id === FORM_WITH_FILES.route && event.url.search.startsWith(FORM_WITH_FILES.action);
