export type TextEdits = typeof import('./text-edits.js');

/** The edits of texts, fetched when somebody first edits. */
export const editsOfText = (): Promise<TextEdits> => import('./text-edits.js');
