export { CATALOGUE_KINDS, type CatalogueKind } from './kind.js';
export { type CatalogueSource, type MergedCatalogue, mergedCatalogue, type PassedOver, WORKSPACE } from './merge.js';
export { CATALOGUE_COLUMNS, type CatalogueRow, catalogueRows } from './rows.js';
