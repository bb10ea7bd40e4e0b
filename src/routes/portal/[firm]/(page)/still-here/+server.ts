import { json } from '@sveltejs/kit';

/** Who is signed in here: a page asks before it reads itself anew, and after somebody has signed in again beside it. */
export const GET = ({ locals }) => json({ person: locals.signedIn?.personId ?? null });
