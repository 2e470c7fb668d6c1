const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };

/** The text with all that HTML would read as markup escaped; fit for content and quoted attributes. */
export const escapeHtml = (text: string): string =>
  text.replace(/[&<>"']/g, (character) => ESCAPES[character] as string);
