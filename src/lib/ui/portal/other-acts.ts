/**
 * What else a client can do with an item than hand it in, by the name under which its fields are kept: the form action that does it.
 */
export const OTHER_ACTS = { talk: 'writeRemark', no: 'sayNo', later: 'askForTime', sent: 'sayAlreadySent' } as const;
