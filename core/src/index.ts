export {
  type Address,
  addressSet,
  formatAddress,
  networkOf,
  parseAddress,
  setContains,
} from './address/index.js';
export { type ColumnTable, decodeTable, encodeTable } from './column/index.js';
export {
  type CountryData,
  compileCountryData,
  countryName,
  originOf,
  readCountryCsv,
  readCountryFile,
  tellCountryRowFault,
} from './country/index.js';
export {
  createRouter,
  type Explanation,
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
  namedSlots,
  type PolicyReport,
  type Report,
  type RequestFilter,
  type RuleReport,
  Run,
  type SideRole,
  type Slot,
  Verdicts,
} from './replay/index.js';
export type { Request } from './request/index.js';
export { parseTime } from './text/index.js';
export {
  linkFiles,
  type ReadWorkspace,
  readFiles,
  readWorkspace,
  type SourceDocument,
  type SourceFile,
  type Workspace,
} from './workspace/index.js';
