/** For how long it is offered to take back what one has just written to a client, in seconds. */
export const TAKE_BACK_SECONDS = 20;
/** How long the mail with it waits, in seconds: somewhat longer, so that whoever presses at the last moment is in time. */
export const MAIL_WAITS_SECONDS = 25;
