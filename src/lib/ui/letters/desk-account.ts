/** What stands in a letter where an account is named, as the firm reads it. */
export const DESK_ACCOUNT = { title: 'Account for the payments', words: 'Named by whoever signs first, when they sign.' };
