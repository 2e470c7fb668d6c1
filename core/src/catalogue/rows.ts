import { parse, stringify } from 'yaml';
import type { SourceDocument } from '../workspace/index.js';
import type { CatalogueKind } from './kind.js';

/** The columns of a catalogue in CSV. Of a category there is a row an entry; of an application one row. */
export const CATALOGUE_COLUMNS = {
  category: ['category', 'entry', 'note'],
  application: ['application', 'note', 'category', 'risk', 'needs', 'when'],
} as const satisfies Record<CatalogueKind, readonly string[]>;

/** A row by its columns; what is empty is not there. */
export type CatalogueRow = Readonly<Record<string, string>>;

type Written = Pick<SourceDocument, 'kind' | 'name' | 'text'>;

/** The rows of all documents of a kind. */
export function catalogueRows(kind: CatalogueKind, documents: readonly Written[]): CatalogueRow[] {
  const own = documents.filter((document) => document.kind === kind);
  return own.flatMap(({ text }) => (kind === 'category' ? categoryRows(text) : [applicationRow(text)]));
}

interface WrittenCategory {
  readonly category: string;
  readonly note?: string;
  readonly domains?: readonly unknown[] | null;
  readonly urls?: readonly unknown[] | null;
}

function categoryRows(text: string): CatalogueRow[] {
  const { category, note, domains, urls } = parse(text) as WrittenCategory;
  const noted = note === undefined ? {} : { note: note.trim() };
  return [...asList(domains), ...asList(urls)].map((entry, at) => ({
    category,
    entry: String(entry),
    ...(at === 0 ? noted : {}),
  }));
}

interface WrittenApplication {
  readonly application: string;
  readonly note?: string;
  readonly category?: string;
  readonly risk?: number;
  readonly needs?: unknown;
  readonly when?: unknown;
}

function applicationRow(text: string): CatalogueRow {
  const { application, note, category, risk, needs, when } = parse(text) as WrittenApplication;
  return {
    application,
    ...(note !== undefined && { note: note.trim() }),
    ...(category !== undefined && { category }),
    ...(risk !== undefined && { risk: String(risk) }),
    ...(asList(needs).length > 0 && { needs: asList(needs).join(' ') }),
    ...(when !== undefined && { when: inLine(when) }),
  };
}

const asList = (value: unknown): readonly unknown[] =>
  value === undefined || value === null ? [] : Array.isArray(value) ? value : [value];

/** A value of YAML in one line. */
const inLine = (value: unknown): string =>
  stringify(value, { collectionStyle: 'flow', lineWidth: 0, flowCollectionPadding: false }).trim();
