/** The classes of rows: each row's own, or those of codes that the rows have. */
export interface ClassColumn {
  /** For each row its class, or its code when `classes` maps codes to classes. */
  readonly codes: Uint32Array;
  /** The class of each code; undefined where the codes are the classes. */
  readonly classes?: Int32Array | undefined;
}

/** The class of one row. */
export function classAt({ codes, classes }: ClassColumn, row: number): number {
  const code = codes[row] as number;
  return classes ? (classes[code] as number) : code;
}
