export {
  type Address,
  addressSet,
  formatAddress,
  isSpecialPurpose,
  networkOf,
  parseAddress,
  setContains,
  tryRange,
} from './address/index.js';
export { type Column, type ColumnTable, decodeTable, encodeTable, LayoutError } from './column/index.js';
export {
  type CountryData,
  type CountryFile,
  type CountryNetwork,
  type CountryRowFault,
  compileCountryData,
  countryName,
  originOf,
  readCountryCsv,
  readCountryFile,
  tellCountryRowFault,
} from './country/index.js';
export { parseHost } from './domain/index.js';
export {
  createRouter,
  type Explanation,
  evaluate,
  explain,
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
  LOG_FORMATS,
  type LogFormat,
  LogReader,
  readRequest,
  tellLineFault,
} from './log/index.js';
export { defaultSentence, listUses, type Policy, ruleSentence, type Stance, type Verdict } from './policy/index.js';
export {
  filterRows,
  type JudgingSlot,
  namedSlots,
  type PolicyReport,
  type Report,
  type RequestFilter,
  type RuleReport,
  Run,
  type Slot,
  UNCOVERED,
  VerdictsBuilder,
} from './replay/index.js';
export { makeRequest, type Request } from './request/index.js';
export { parseTime } from './text/index.js';
export { normalPath } from './url/index.js';
export {
  linkFiles,
  type ReadWorkspace,
  readFiles,
  readWorkspace,
  type SourceDocument,
  type SourceFile,
  type Workspace,
} from './workspace/index.js';
