import { doPasskey, portalDoor } from '$lib/web/sign-in-forms';

/** Signing in with a passkey alone. */
export const POST = async (event) => doPasskey(event, await portalDoor(event));
