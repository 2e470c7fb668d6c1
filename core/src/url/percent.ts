/** Bytes whose escapes are kept, since undoing them would change what a text is divided by. */
export type KeptBytes = ReadonlySet<number>;

/** The bytes whose escapes stay, from their characters, which must be ASCII. */
export const keptBytes = (characters: string): KeptBytes =>
  new Set([...characters].map((character) => character.charCodeAt(0)));

const ESCAPES = /(?:%[0-9a-f]{2})+|%/gi;
const LONE_SURROGATE = /[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/g;
// A byte order mark is a character like any other here.
const decoder = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });

/**
 * Undoes all percent-encoding of a text but that of the kept bytes, once. What is kept is in capitals; bytes that are no
 * UTF-8 stay encoded; a `%` that begins no escape is written `%25`. Doing it again changes nothing.
 */
export function percentDecoded(text: string, kept: KeptBytes): string {
  const whole = text.replace(LONE_SURROGATE, '\uFFFD');
  if (!whole.includes('%')) return whole;
  return whole.replace(ESCAPES, (escapes) => (escapes === '%' ? '%25' : decodedRun(escapedBytes(escapes), kept)));
}

/** The escape of a byte, in capitals: `%2F`. */
export const percentEncoded = (byte: number): string => `%${byte.toString(16).toUpperCase().padStart(2, '0')}`;

/** The bytes of a run of escapes such as `%C3%BC`. */
export function escapedBytes(escapes: string): Uint8Array {
  const bytes = new Uint8Array(escapes.length / 3);
  for (let at = 0; at < bytes.length; at++) bytes[at] = Number.parseInt(escapes.slice(at * 3 + 1, at * 3 + 3), 16);
  return bytes;
}

function decodedRun(bytes: Uint8Array, kept: KeptBytes): string {
  let text = '';
  for (let at = 0; at < bytes.length; ) {
    const byte = bytes[at] as number;
    const length = sequenceLength(byte);
    const character = kept.has(byte) ? undefined : decodedCharacter(bytes.subarray(at, at + length));
    text += character ?? percentEncoded(byte);
    at += character === undefined ? 1 : length;
  }
  return text;
}

/** How many bytes a character that begins with the byte has (RFC 3629). */
const sequenceLength = (byte: number): number => (byte < 0xc2 ? 1 : byte < 0xe0 ? 2 : byte < 0xf0 ? 3 : 4);

function decodedCharacter(bytes: Uint8Array): string | undefined {
  try {
    return decoder.decode(bytes);
  } catch {
    return undefined;
  }
}
