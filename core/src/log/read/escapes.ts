/**
 * Undoes the backslashes that servers put before quotes, backslashes and unprintable bytes. Bytes behind each other are
 * UTF-8 where they are valid as such, else one character each.
 */
export function unescaped(text: string): string {
  if (!text.includes('\\')) return text;
  return text.replace(ESCAPED, (_, bytes: string | undefined, character: string | undefined) =>
    bytes === undefined ? (ESCAPES[character as string] ?? (character as string)) : decoded(bytes),
  );
}

const ESCAPED = /\\(?:x([0-9a-fA-F]{2}(?:\\x[0-9a-fA-F]{2})*)|(.))/g;
const utf8 = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });

/** The text of bytes that are written as `hh\xhh…`. */
export function decoded(written: string): string {
  const bytes = Uint8Array.from(written.split('\\x'), (each) => Number.parseInt(each, 16));
  try {
    return utf8.decode(bytes);
  } catch {
    return String.fromCharCode(...bytes);
  }
}

const ESCAPES: Record<string, string | undefined> = { n: '\n', t: '\t', r: '\r', b: '\b', v: '\v', f: '\f' };
