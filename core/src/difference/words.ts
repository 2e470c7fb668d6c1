/** This many names are listed; the rest is counted. */
const MOST_NAMED = 5;

/** The text in back quotes, as messages name things. */
export const quoted = (text: string): string => `\`${text}\``;

/** That something said one thing and says another; nothing where it says the same. */
export function textWords(what: string, before: string | undefined, after: string | undefined): string[] {
  if (before === after) return [];
  if (before === undefined) return [`${what} is new: ${after}`];
  if (after === undefined) return [`${what} is gone; it was: ${before}`];
  return [`${what} was: ${before} It is: ${after}`.replace(/([^.])( It is:)/, '$1.$2')];
}

/** Names added to a set and removed from it, in words. */
export function setWords(what: string, before: readonly string[], after: readonly string[]): string[] {
  const [old, now] = [new Set(before), new Set(after)];
  const added = after.filter((each) => !old.has(each));
  const removed = before.filter((each) => !now.has(each));
  return [
    ...(added.length > 0 ? [`added to ${what}: ${some(added)}`] : []),
    ...(removed.length > 0 ? [`taken from ${what}: ${some(removed)}`] : []),
  ];
}

/** The first few, and how many more there are. */
export function some(names: readonly string[]): string {
  const shown = names.slice(0, MOST_NAMED).map(quoted).join(', ');
  const more = names.length - MOST_NAMED;
  return more > 0 ? `${shown} and ${more.toLocaleString('en')} more` : shown;
}
