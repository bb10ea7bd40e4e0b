import { mailFromDoor } from '$lib/server/people/door-mail';
import type { Job } from '../job';

export const mailFromDoorJob: Job<'mail_from_door'> = (payload, { context }) => mailFromDoor(context.db, payload);
