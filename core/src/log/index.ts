export { addressColumn } from './chunk/addresses.js';
export { CHUNK_ROWS, ChunkBuilder } from './chunk/builder.js';
export { ChunkRows } from './chunk/rows.js';
export { type LineFault, type LineFaultCode, type LineResult, tellLineFault } from './line.js';
export { readCombinedLine } from './read/combined.js';
export { JSON_FIELDS, readJsonLine, readRequest } from './read/json-lines.js';
export { detectFormat, LOG_FORMATS, type LogFormat, LogReader, type LogTaker } from './read/reader.js';
export { LineSplitter } from './read/splitter.js';
