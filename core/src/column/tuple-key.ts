/**
 * Several texts, any of which may be absent, as one text: different tuples have different keys, whatever the texts hold.
 * Each is written behind its length, an absent one as a dash.
 */
export function tupleKey(texts: readonly (string | undefined)[]): string {
  let key = '';
  for (const text of texts) key += text === undefined ? '-' : `${text.length}:${text}`;
  return key;
}

/** The texts that `tupleKey` wrote. */
export function tupleOf(key: string): (string | undefined)[] {
  const texts: (string | undefined)[] = [];
  for (let at = 0; at < key.length; ) {
    if (key[at] === '-') {
      texts.push(undefined);
      at++;
      continue;
    }
    const colon = key.indexOf(':', at);
    const end = colon + 1 + Number(key.slice(at, colon));
    texts.push(key.slice(colon + 1, end));
    at = end;
  }
  return texts;
}
