import { z } from 'zod';
import { cleanText, emailField } from './plain-fields';
import { PASSWORD_MAX } from './passwords';

export const signInSchema = z.object({
	email: z.string().max(254, 'wrong.email.long').transform(cleanText),
	password: z.string().max(PASSWORD_MAX, 'wrong.password.long')
});

/** Who asks for a link to choose a new password. */
export const resetAskSchema = z.object({ email: emailField });

/** A session ends this long after its last use. */
export const SESSION_IDLE_HOURS = { staff: 12, contact: 24 * 14 } as const;
/** Days after which a session ends, however much it is used. */
export const SESSION_MOST_DAYS = { staff: 30, contact: 90 } as const;
/** A session's token is replaced when it is older than this. */
export const SESSION_ROTATE_MINUTES = 60;
/** The replaced token still works this long, for requests already under way. */
export const SESSION_GRACE_SECONDS = 60;
/** A link to choose a new password works this long. */
export const RESET_HOURS = 2;
/** A link with which a new person of the firm chooses a password works this long. */
export const STAFF_INVITATION_HOURS = 24 * 7;
