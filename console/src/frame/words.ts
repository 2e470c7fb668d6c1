/** The words of a text, which are parted by blanks or commas. */
export const wordsIn = (text: string): string[] => text.split(/[\s,]+/).filter((word) => word !== '');
