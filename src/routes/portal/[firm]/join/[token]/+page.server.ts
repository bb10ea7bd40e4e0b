import { redirect } from '@sveltejs/kit';
import { DomainError } from '$lib/core/errors/domain-error';
import { askForInvitation, openInvitation, takeUpInvitation } from '$lib/server/invitations/take-up-invitation';
import { inPasswordForm } from '$lib/web/password-form';
import { browserOf, follow, portalDoor } from '$lib/web/sign-in-forms';
import { webContext } from '$lib/web/web-context';

export const load = async ({ params, locals }) => {
	const { db } = await webContext();
	// a full stop after the address in a message, taken for a part of it
	const clean = params.token.replace(/[^\w-]+$/, '');
	if (clean !== params.token) redirect(303, `/portal/${params.firm}/join/${clean}`);
	const seen = await openInvitation(db, locals.actor, params.token);
	if (!seen || seen.firmSlug !== params.firm) return { state: 'unknown' as const };
	// whoever is in already needs no link
	if (seen.state === 'taken_up' && locals.signedIn?.personId === seen.contactId) redirect(303, `/portal/${params.firm}`);
	return { state: seen.state, name: seen.name, email: seen.state === 'sent' ? seen.email : '', inviteeLocale: seen.locale };
};

export const actions = {
	/** Asks the firm for a link that works. */
	sendAgain: async ({ params, locals }) => {
		const { db } = await webContext();
		await askForInvitation(db, locals.actor, params.token);
		return { asked: true };
	},
	join: async (event) => {
		const { params, locals, cookies } = event;
		const password = String((await event.request.formData()).get('password') ?? '');
		const door = await portalDoor(event);
		return inPasswordForm(door.locale, password, async () => {
			let taken;
			try {
				taken = await takeUpInvitation(door.context.db, locals.actor, params.token, password, browserOf(cookies, door));
			} catch (cause) {
				// the page itself says what became of the link
				if (cause instanceof DomainError && cause.code === 'link_unusable') redirect(303, `/portal/${params.firm}/join/${params.token}`);
				throw cause;
			}
			await follow(event, door, taken.outcome);
		});
	}
};
