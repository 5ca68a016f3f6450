/** Words one after the other, as they are said: “a, b and c”. */
const FORM = new Intl.ListFormat('en-GB', { type: 'conjunction' });
export const spoken = (words: readonly string[]): string => FORM.format(words);
