import type { LineResult } from '../line.js';
import { readCombinedLine } from './combined.js';
import type { LogFormat } from './detect.js';
import { jsonObject, readJsonLine } from './json-lines.js';
import { JsonMapping } from './json-mapping.js';
import { hasPlaces, type Mapping } from './mapping.js';
import { withOurNames } from './names.js';
import { type LinePattern, readPatternLine, tryLinePattern } from './pattern.js';
import { readRequest } from './request-fields.js';

/** The formats whose lines are independent, so that blocks of them can be read in parallel. */
export const BLOCK_FORMATS = ['json-lines', 'combined', 'text'] as const satisfies readonly LogFormat[];
export type BlockFormat = (typeof BLOCK_FORMATS)[number];

/** What lines have that requests have not, and the other way round. */
export interface LineCounts {
  /** The names of fields that are not a request's, with how often they came. */
  readonly ignored: Map<string, number>;
  /** The fields of the mapping whose place lines did not have, with how many. */
  readonly missing: Map<string, number>;
}

/** Reads one line that is not empty. */
export type ReadLine = (line: string, counts: LineCounts) => LineResult;

/** How the lines of a log are read, by its format and mapping. Throws where text comes without a pattern. */
export function readLineBy(format: BlockFormat, mapping: Mapping): ReadLine {
  switch (format) {
    case 'combined':
      return readCombinedLine;
    case 'json-lines':
      return hasPlaces(mapping) || mapping.zone !== undefined ? mappedJson(mapping) : ours;
    case 'text': {
      const pattern = patternOf(mapping);
      return (line, { ignored }) => readPatternLine(line, pattern, mapping.zone, ignored);
    }
  }
}

const ours: ReadLine = (line, { ignored }) => readJsonLine(line, ignored);

function mappedJson(mapping: Mapping): ReadLine {
  const places = new JsonMapping(mapping);
  return (line, { ignored, missing }) => {
    const value = jsonObject(line);
    return 'fault' in value ? value : readRequest(withOurNames(places.fields(value.object, missing)), ignored);
  };
}

/** The pattern of a mapping that was checked before. */
function patternOf({ pattern }: Mapping): LinePattern {
  const read = tryLinePattern(pattern ?? '');
  if ('fault' in read) throw new Error(`no pattern to read text by: ${read.fault}`);
  return read;
}
