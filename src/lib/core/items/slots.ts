/** What files a slot takes. */
export const SLOT_TYPES = { any: 'any file', pdf: 'PDF', picture: 'picture', sheet: 'spreadsheet' } as const;
export type SlotType = keyof typeof SLOT_TYPES;

/** What a browser is told to offer for it; undefined for everything. */
export const acceptOf = (type: SlotType): string | undefined => (type === 'pdf' ? 'application/pdf' : type === 'picture' ? 'image/*' : undefined);
