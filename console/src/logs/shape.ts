/** How the start of a file looks, so that its fields can be pointed at. */
export type Shape =
  | { readonly type: 'packed' }
  /** A table, or JSON: the places that fields can be in. */
  | { readonly type: 'table' | 'json'; readonly places: readonly string[] }
  /** A line of text that is an example of all. */
  | { readonly type: 'text'; readonly example: string };

const MOST_PLACES = 100;

/** The shape of a text; undefined where it is one that is read as it is. */
export function shapeOf(start: string): Shape | undefined {
  if (start.startsWith('\u001f')) return { type: 'packed' };
  const [first = ''] = start.split('\n').filter((line) => line.trim() !== '');
  if (first === '' || /^(?:#|\s*\{\s*"log"\s*:\s*\{)/.test(first)) return undefined;
  if (first.trimStart().startsWith('{')) return { type: 'json', places: placesIn(first) };
  const header = headerOf(first);
  return header === undefined ? { type: 'text', example: first.trimEnd() } : { type: 'table', places: header };
}

/** The names of columns, where the first line looks like a header of CSV. */
function headerOf(line: string): string[] | undefined {
  const delimiter = [',', ';', '\t'].find((each) => line.split(each).length > 2);
  if (delimiter === undefined || /\[\d|\d{4}-\d\d-\d\d|"[A-Z]+ \//.test(line)) return undefined;
  return line.split(delimiter).map((name) => name.trim().replace(/^"|"$/g, ''));
}

/** The members of an object as JSON Pointers (RFC 6901), those that hold values and those that hold others. */
function placesIn(line: string): string[] {
  const found: string[] = [];
  const walk = (value: unknown, at: string): void => {
    if (found.length >= MOST_PLACES) return;
    if (at !== '') found.push(at);
    if (value === null || typeof value !== 'object' || Array.isArray(value)) return;
    for (const [name, inner] of Object.entries(value))
      walk(inner, `${at}/${name.replaceAll('~', '~0').replaceAll('/', '~1')}`);
  };
  try {
    walk(JSON.parse(line), '');
  } catch {
    return [];
  }
  return found;
}
