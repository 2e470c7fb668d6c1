import { type ResolutionFileOptions, readResolutionFile, resolutionFaultText } from '@jade-fence/core/resolution';
import { pack } from './packed.js';

/** This many faults are kept to be shown; all of them are counted. */
const MOST_FAULTS = 1000;

/** What is in a file of resolutions, and its answers as they are kept. */
export interface ResolutionFileLook {
  readonly format: string;
  readonly hosts: number;
  readonly faults: readonly { readonly line: number; readonly code: string; readonly reason: string }[];
  readonly faultCount: number;
  readonly packed: Uint8Array;
}

/** Reads a file of resolutions. Takes seconds for a million hosts. */
export function lookAtResolutionFile(file: Uint8Array, options: ResolutionFileOptions): ResolutionFileLook {
  const { format, answers, faults, faultCount } = readResolutionFile(file, options);
  const shown = faults
    .slice(0, MOST_FAULTS)
    .map((fault) => ({ line: fault.line, code: fault.code, reason: resolutionFaultText(fault) }));
  return { format, hosts: answers.length, faults: shown, faultCount, packed: pack(answers) };
}
