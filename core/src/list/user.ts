const LONGEST_USER = 256;

/**
 * The one form of a user's or group's name: lower case, since directories do not mind it; undefined where it is none.
 * Patterns and lists have no meaning here: names are compared literally.
 */
export function tryUser(text: string): string | undefined {
  const isName = text !== '' && text.length <= LONGEST_USER && !/[\x00-\x1f\x7f*]|^~|^list:/.test(text);
  return isName ? userForm(text) : undefined;
}

/** A user of a request, in the form that rules compare. */
export const userForm = (text: string): string => text.toLowerCase();
