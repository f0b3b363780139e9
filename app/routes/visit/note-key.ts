/** Under which the closing note of a visit waits on this device until it is in the book. */
export const noteKey = (visitId: string): string => `pelagon.note.${visitId}`;
