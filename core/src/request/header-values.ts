/**
 * The values of one header as one text of a column, and back. One value is its own text, which is what nearly every
 * header has. None, several, and a value that begins with NUL are written as a JSON list behind a NUL, so that no value
 * can be taken for another.
 */
export function packValues(values: readonly string[]): string {
  const only = values.length === 1 ? (values[0] as string) : undefined;
  return only?.startsWith(MARK) === false ? only : MARK + JSON.stringify(values);
}

/** The values that `packValues` wrote. */
export function unpackValues(text: string): readonly string[] {
  return text.startsWith(MARK) ? (JSON.parse(text.slice(MARK.length)) as string[]) : [text];
}

const MARK = '\0';
