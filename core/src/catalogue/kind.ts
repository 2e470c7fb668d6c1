/** The kinds of documents that a catalogue has. */
export const CATALOGUE_KINDS = ['category', 'application'] as const;
export type CatalogueKind = (typeof CATALOGUE_KINDS)[number];
