/** What files a slot takes. */
export const SLOT_TYPES = { any: 'any file', pdf: 'PDF', picture: 'picture', sheet: 'spreadsheet' } as const;
export type SlotType = keyof typeof SLOT_TYPES;
