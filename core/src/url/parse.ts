/**
 * The absolute URL of a text, by the WHATWG parser; undefined where it is none. `URL.canParse` is not asked: in Node 20
 * it comes to deny URLs with letters outside ASCII, once it has been called often enough to be compiled.
 */
export function parseUrl(text: string): URL | undefined {
  try {
    return new URL(text);
  } catch {
    return undefined;
  }
}
