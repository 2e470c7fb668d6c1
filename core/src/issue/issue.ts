/** Offsets into a file's text, in UTF-16 units: `start` included, `end` not. */
export interface Span {
  readonly start: number;
  readonly end: number;
}

/** A place in a document: keys of maps and indexes of lists, from the document's root. */
export type DocumentPath = readonly (string | number)[];

/** A place in one file. */
export interface Site {
  readonly span: Span;
  readonly path: DocumentPath;
}

/** One problem of a workspace file: a fault, and the place that it was found at. */
export type Issue = Fault & Site & { readonly file: string };

/** The faults of a document. A closed union: the text of each code is in `wording.ts`. */
export type Fault =
  | { readonly code: 'syntax'; readonly detail: string }
  | { readonly code: 'alias'; readonly text: string }
  | { readonly code: 'too-deep' }
  | { readonly code: 'too-large'; readonly limit: number }
  | {
      readonly code: 'unknown-document';
      readonly found: string;
      readonly known: readonly string[];
      readonly suggestion: string | undefined;
    }
  | { readonly code: 'wrong-shape'; readonly expected: Shape; readonly found: Shape }
  | { readonly code: 'missing-key'; readonly key: string; readonly known: readonly string[] }
  | {
      readonly code: 'unknown-key';
      readonly key: string;
      readonly known: readonly string[];
      readonly suggestion: string | undefined;
    }
  | { readonly code: 'duplicate-key'; readonly key: string }
  | { readonly code: 'bad-name'; readonly text: string }
  | { readonly code: 'reserved-name'; readonly text: string }
  | { readonly code: 'duplicate-document'; readonly kind: string; readonly name: string; readonly first: string }
  | { readonly code: 'duplicate-rule'; readonly name: string; readonly policy: string }
  | {
      readonly code: 'unknown-value';
      readonly text: string;
      readonly known: readonly string[];
      readonly suggestion: string | undefined;
    }
  | {
      readonly code: 'unknown-list';
      readonly name: string;
      readonly sort: string;
      readonly suggestion: string | undefined;
    }
  | { readonly code: 'wrong-list'; readonly name: string; readonly sort: string; readonly found: string }
  | { readonly code: 'no-list'; readonly text: string }
  | { readonly code: 'list-in-list'; readonly text: string; readonly name: string }
  | { readonly code: 'bare-action'; readonly text: string }
  | { readonly code: 'bad-client-source'; readonly text: string }
  | { readonly code: 'bad-list-name'; readonly text: string; readonly suggestion: string | undefined }
  | { readonly code: 'anonymous-in-list' }
  | { readonly code: 'never-matches' }
  | { readonly code: 'overlapping-days'; readonly day: string; readonly first: string; readonly second: string }
  | { readonly code: 'duplicate-key-part'; readonly text: string }
  | { readonly code: 'host-is-url'; readonly text: string }
  | { readonly code: 'host-with-port'; readonly text: string; readonly host: string; readonly port: string }
  | { readonly code: 'cyclic-include'; readonly names: readonly string[] }
  | { readonly code: 'bad-address'; readonly text: string; readonly reason: string }
  | { readonly code: 'host-bits'; readonly text: string; readonly network: string }
  | { readonly code: 'bad-country'; readonly text: string; readonly suggestion: string | undefined }
  | { readonly code: 'bad-host'; readonly text: string; readonly reason: string }
  | { readonly code: 'bad-path'; readonly text: string; readonly reason: string }
  | { readonly code: 'bad-method'; readonly text: string }
  | { readonly code: 'bad-token'; readonly field: string; readonly text: string }
  | { readonly code: 'bad-port'; readonly text: string }
  | { readonly code: 'bad-header'; readonly text: string }
  | { readonly code: 'bad-redaction'; readonly text: string; readonly known: readonly string[] }
  | { readonly code: 'bad-time'; readonly text: string }
  | { readonly code: 'bad-url'; readonly text: string; readonly reason: string }
  | { readonly code: 'bad-text'; readonly text: string; readonly reason: string }
  | { readonly code: 'bad-user'; readonly text: string }
  | { readonly code: 'bad-size'; readonly text: string }
  | { readonly code: 'bad-duration'; readonly text: string; readonly least: string; readonly most: string }
  | {
      readonly code: 'bad-number';
      readonly text: string;
      readonly what: string;
      readonly least: number;
      readonly most: number;
    }
  | { readonly code: 'bad-limit'; readonly text: string; readonly most: number }
  | { readonly code: 'bad-key'; readonly text: string }
  | { readonly code: 'bad-zone'; readonly text: string }
  | { readonly code: 'bad-day'; readonly text: string }
  | { readonly code: 'bad-date'; readonly text: string }
  | { readonly code: 'bad-span'; readonly text: string; readonly reason: 'shape' | 'empty' }
  | { readonly code: 'bad-redirect'; readonly text: string }
  | { readonly code: 'bad-destination'; readonly text: string }
  | { readonly code: 'second-action'; readonly text: string }
  | { readonly code: 'incomplete-action'; readonly text: string }
  | { readonly code: 'too-long'; readonly limit: number }
  | {
      readonly code: 'unknown-name';
      readonly kind: string;
      readonly name: string;
      readonly suggestion: string | undefined;
    }
  | { readonly code: 'cyclic-needs'; readonly names: readonly string[] }
  | {
      readonly code: 'conflicting-corrections';
      readonly network: string;
      readonly country: string;
      readonly other: string;
    }
  | { readonly code: 'empty-condition' }
  | { readonly code: 'trust-without-source' }
  | { readonly code: 'missing-trust'; readonly source: string }
  | { readonly code: 'too-many'; readonly what: string; readonly limit: number }
  | { readonly code: 'overlapping-covers'; readonly pattern: string; readonly policy: string; readonly other: string };

export type FaultCode = Fault['code'];

export type Shape = 'map' | 'list' | 'word' | 'nothing' | 'map or list' | 'word or map';
