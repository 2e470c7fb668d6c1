import { parseAddress } from '../../address/index.js';
import type { Answer } from '../answer.js';
import type { ResolutionFault } from '../fault.js';
import { readResolutionCsv } from './csv.js';
import { Gather } from './gather.js';
import { readHostsFile } from './hosts.js';
import { readZoneFile } from './zone.js';

export const RESOLUTION_FORMATS = ['csv', 'hosts', 'zone'] as const;
export type ResolutionFormat = (typeof RESOLUTION_FORMATS)[number];

export interface ResolutionFileOptions {
  /** The name of the source, such as that of the file. */
  readonly name: string;
  /** When the answers were seen, where the file does not say, in milliseconds since 1970. */
  readonly seen: number;
  /** Undefined: the format that the file itself shows. */
  readonly format?: ResolutionFormat | undefined;
  /** What relative names of a zone file are under; `$ORIGIN` in the file comes first. */
  readonly origin?: string | undefined;
}

/** The contents of a file of resolutions. */
export interface ResolutionFile {
  readonly format: ResolutionFormat;
  readonly answers: readonly Answer[];
  /** The first 10,000, in the order of lines. */
  readonly faults: readonly ResolutionFault[];
  /** How many there are. */
  readonly faultCount: number;
}

/** Reads resolutions from a CSV, hosts or zone file in UTF-8. What is faulty is left out and never stops the reading. */
export function readResolutionFile(file: Uint8Array, options: ResolutionFileOptions): ResolutionFile {
  const text = new TextDecoder('utf-8', { ignoreBOM: true }).decode(file);
  const format = options.format ?? formatOf(text);
  const gather = new Gather({ kind: format, name: options.name }, options.seen);
  if (format === 'zone') readZoneFile(text, gather, options.origin);
  else if (format === 'hosts') readHostsFile(text, gather);
  else readResolutionCsv(text, gather);
  const faults = gather.faults.toSorted((a, b) => a.line - b.line);
  return { format, answers: gather.answers, faults, faultCount: gather.faultCount };
}

const LOOKED_AT = 64 * 1024;

/** What the first line that says something looks like. */
function formatOf(text: string): ResolutionFormat {
  for (const raw of text
    .slice(0, LOOKED_AT)
    .replace(/^\uFEFF/, '')
    .split(/\r\n|\n|\r/)) {
    const line = raw.trim();
    if (line === '' || line.startsWith('#')) continue;
    if (line.startsWith('$') || line.startsWith(';') || /\s(?:IN|SOA|NS|A|AAAA|CNAME)\s/i.test(` ${line} `))
      return 'zone';
    const [first = ''] = line.split(/\s/);
    return parseAddress(first) ? 'hosts' : 'csv';
  }
  return 'csv';
}
