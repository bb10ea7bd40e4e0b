/** Small letters without accents, as what somebody typed is compared with what is written. */
export const plainLetters = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();
