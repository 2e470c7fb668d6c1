/** The classes of rows: each row's own, or those of codes that the rows have. */
export interface ClassColumn {
  /** A number for each row: its class, or the code that `classes` tells the class of. */
  readonly codes: Uint32Array;
  /** The class of each code; undefined where the codes are the classes. */
  readonly classes?: Int32Array | undefined;
}

/** The class of one row. */
export function classAt({ codes, classes }: ClassColumn, row: number): number {
  const code = codes[row] as number;
  return classes ? (classes[code] as number) : code;
}

/** The classes of so many rows one by one, written where there is room for them, unless they are there as such. */
export function classesOfRows({ codes, classes }: ClassColumn, count: number, into: Uint32Array): Uint32Array {
  if (classes === undefined) return codes;
  for (let at = 0; at < count; at++) into[at] = classes[codes[at] as number] as number;
  return into;
}
