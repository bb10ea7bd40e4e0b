/** Of words `m` of a client: nobody has put the answer off beyond a day. @param today the parameter with the day of the firm */
export const notPutOff = (today: string): string => `(m.later_until is null or m.later_until <= ${today})`;
