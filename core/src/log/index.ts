export { type LineBlock, LineBlocks } from './block/line-blocks.js';
export type { ReadPart, Rejected } from './block/parts.js';
export { BlockReader } from './block/read-block.js';
export { StreamReader } from './block/stream-reader.js';
export { addressColumn } from './chunk/addresses.js';
export { CHUNK_ROWS, ChunkBuilder } from './chunk/builder.js';
export { ChunkRows } from './chunk/rows.js';
export { type FieldFault, type LineFault, type LineFaultCode, type LineResult, lineFaultText } from './line.js';
export { readCombinedLine } from './read/combined.js';
export { detectFormat, FORMAT_NAMES, LOG_FORMATS, type LogFormat, settledFormat } from './read/detect.js';
export { readJsonLine } from './read/json-lines.js';
export { BLOCK_FORMATS, type BlockFormat } from './read/line-format.js';
export { hasPlaces, isMappable, type Mapping } from './read/mapping.js';
export { type LinePattern, type PatternFault, tryLinePattern } from './read/pattern.js';
export { patternFaultText } from './read/pattern-fault.js';
export {
  LOG_SAMPLE,
  LogReader,
  type LogReaderOptions,
  type LogStart,
  type LogTaker,
  lookAtStart,
} from './read/reader.js';
export { countIgnored, REQUEST_FIELDS, readRequest } from './read/request-fields.js';
export { LineSplitter } from './read/splitter.js';
