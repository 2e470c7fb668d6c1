/** The page that a stopped client sees. */
export interface Notice {
  readonly type: 'notice';
  readonly name: string;
  readonly file: string;
  readonly note: string | undefined;
  /** The HTTP status; undefined: the rule's verdict has it. */
  readonly status: number | undefined;
  readonly title: string;
  /** Paragraphs, parted by empty lines. */
  readonly text: string;
  /** Whom to ask. */
  readonly contact: string | undefined;
}

/** The words in braces that a notice replaces by facts of the request. */
export const PLACEHOLDERS = ['host', 'path', 'client', 'country', 'rule', 'policy', 'time', 'request'] as const;
export type Placeholder = (typeof PLACEHOLDERS)[number];

const BRACES = /\{([a-z][a-z0-9-]*)\}/g;

/** The words in braces of a text. */
export const placeholdersIn = (text: string): string[] =>
  Array.from(text.matchAll(BRACES), (found) => found[1] as string);

/** The text with its words in braces replaced; what is not known of the request is left out as a dash. */
export function filled(text: string, facts: Partial<Record<Placeholder, string>>): string {
  return text.replace(BRACES, (_, word: string) => facts[word as Placeholder] ?? '–');
}
