/*
 * The binary layout of a column table, version 3; `docs/layout.md` specifies it. All numbers are little-endian.
 *
 *   "JFCT"  u16 version  u16 columns  u32 rows
 *   each column:  u8 kind (and whether packed)  u8 width  u16 name bytes  u32 body bytes  name (UTF-8)  body
 */
export const MAGIC = 'JFCT';
export const VERSION = 3;
/** Version 2 has no columns of whole numbers or packed ones, and version 1 none of addresses either. */
export const OLDEST = 1;
export const HEAD = 12;
export const COLUMN_HEAD = 8;
/** The kinds by their numbers. Those without a name were of verdicts in version 1, which are kept no more. */
export const KINDS = ['text', 'number', undefined, undefined, 'address', 'whole'] as const;
export type Kind = (typeof KINDS)[number];
/** The bit of a kind that says that the body is packed. */
export const PACKED = 0x80;

/** A column as it is stored; the width is that of its codes or numbers, where they have one. */
export interface StoredColumn {
  readonly kind: Kind;
  readonly width: number;
  readonly body: Uint8Array;
}
