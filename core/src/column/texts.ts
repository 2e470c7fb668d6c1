import type { Codes, TextBytes, TextColumn } from './column.js';

const decoder = new TextDecoder('utf-8', { ignoreBOM: true });

/** A text column whose dictionary came as bytes. Its texts are decoded on first use, which is rare. */
export class BytesTextColumn implements TextColumn {
  readonly type = 'text';
  readonly bytes: TextBytes;
  readonly codes: Codes;
  #dictionary: readonly string[] | undefined;

  constructor(bytes: TextBytes, codes: Codes) {
    this.bytes = bytes;
    this.codes = codes;
  }

  get dictionary(): readonly string[] {
    this.#dictionary ??= decodeTexts(this.bytes);
    return this.#dictionary;
  }
}

/**
 * Reads entries of a column's dictionary one by one, by their codes: for who needs a few of them, and not the whole
 * dictionary.
 */
export function textReader(column: TextColumn): (code: number) => string | undefined {
  const { bytes } = column;
  if (bytes === undefined) return (code) => column.dictionary[code - 1];
  const { texts, ends } = bytes;
  const known: (string | undefined)[] = [];
  return (code) => {
    if (code === 0) return undefined;
    known[code] ??= decoder.decode(texts.subarray(code === 1 ? 0 : ends[code - 2], ends[code - 1]));
    return known[code];
  };
}

/** All texts are decoded at once and cut apart; one by one only where characters are not bytes. */
export function decodeTexts({ texts, ends }: TextBytes): string[] {
  const whole = decoder.decode(texts);
  const plain = whole.length === texts.length;
  const dictionary = new Array<string>(ends.length);
  let start = 0;
  for (let index = 0; index < ends.length; index++) {
    const end = ends[index] as number;
    dictionary[index] = plain ? whole.slice(start, end) : decoder.decode(texts.subarray(start, end));
    start = end;
  }
  return dictionary;
}

/** How many codes a column has, 0 included. Texts that are bytes yet are not decoded for this. */
export const textCodes = (column: TextColumn): number => 1 + (column.bytes?.ends.length ?? column.dictionary.length);
