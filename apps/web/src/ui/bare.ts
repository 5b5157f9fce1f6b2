/** A text without what does not matter where somebody types a plate or a name: capitals and blanks. */
export const bare = (text: string): string => text.toLowerCase().replace(/\s+/g, "");
