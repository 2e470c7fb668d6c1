export {
  type Address,
  type AddressSet,
  addressSet,
  formatAddress,
  formatPrefix,
  formatRange,
  networkOf,
  parseAddress,
  prefixesOf,
  rangeSize,
  setContains,
} from './address/index.js';
export { type ColumnTable, decodeTable, encodeTable } from './column/index.js';
export {
  type CountryData,
  type CountryNetwork,
  type Coverage,
  compileCountryData,
  countryName,
  coverageOf,
  networkTelling,
  originOf,
  readCountryCsv,
  readCountryFile,
  tellCountry,
  tellCountryRowFault,
} from './country/index.js';
export { type DomainSet, domainSet, domainSetContains } from './domain/index.js';
export {
  type AskLimit,
  compilePlan,
  createRouter,
  decisionOf,
  type Explanation,
  evaluate,
  explain,
  Judge,
  type Prepared,
  prepare,
  subjectOf,
} from './engine/index.js';
export { type IssueReport, suggest } from './issue/index.js';
export { isAlive, type List, type ListSort, withIncluded } from './list/index.js';
export {
  CHUNK_ROWS,
  ChunkBuilder,
  ChunkRows,
  FORMAT_NAMES,
  isMappable,
  LOG_FORMATS,
  type LogFormat,
  LogReader,
  type Mapping,
  REQUEST_FIELDS,
  readRequest,
  tellLineFault,
} from './log/index.js';
export {
  type ActionType,
  defaultSentence,
  listUses,
  type Policy,
  ruleSentence,
  type Stance,
  VERDICTS,
  type Verdict,
} from './policy/index.js';
export {
  asksForCatalogue,
  asksForRequest,
  type Breakdown,
  type Breakdowns,
  Catalogue,
  type Cause,
  type ChangeFilter,
  Comparison,
  type ComparisonReport,
  type Decided,
  DIMENSIONS,
  type Dimension,
  decided,
  filterChanges,
  filterFaults,
  filterRows,
  keptLimits,
  namedSlots,
  type PolicyReport,
  type Report,
  type RequestFilter,
  type RuleReport,
  Run,
  type Share,
  SIDE_ROLES,
  type SideRole,
  type Slot,
  Verdicts,
} from './replay/index.js';
export { makeRequest, type Request } from './request/index.js';
export { FINDING_CODES, type Finding, review } from './review/index.js';
export { isZone } from './schedule/index.js';
export type { DocumentKind } from './text/index.js';
export { parseTime } from './text/index.js';
export {
  type DescribedObject,
  describeObjects,
  linkFiles,
  listsReached,
  type ReadFiles,
  type ReadWorkspace,
  readFiles,
  readWorkspace,
  type SourceDocument,
  type SourceFile,
  type Workspace,
} from './workspace/index.js';
