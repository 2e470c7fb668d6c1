export { type CatalogueSource, type MergedCatalogue, mergedCatalogue, type PassedOver, WORKSPACE } from './merge.js';
export { CATALOGUE_COLUMNS, CATALOGUE_KINDS, type CatalogueKind, type CatalogueRow, catalogueRows } from './rows.js';
