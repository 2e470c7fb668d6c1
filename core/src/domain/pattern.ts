import { type HostFault, tryHost } from './host.js';

/** Which names a pattern means: the name itself (`exact`), it and all under it, or only what is under it. */
export type DomainReach = 'exact' | 'under' | 'only-under';

export interface DomainPattern {
  readonly reach: DomainReach;
  /** The name in normal form, without the marks `.` or `*.`. */
  readonly name: string;
}

/** Reads `name`, `.name` or `*.name`. */
export function tryDomainPattern(text: string): DomainPattern | HostFault {
  const reach: DomainReach = text.startsWith('*.') ? 'only-under' : text.startsWith('.') ? 'under' : 'exact';
  const result = tryHost(text.slice(reach === 'exact' ? 0 : reach === 'under' ? 1 : 2));
  return 'host' in result ? { reach, name: result.host } : result.fault;
}

/** True where the pattern means the host, which must be in the normal form of `tryHost`. */
export function patternMatches(pattern: DomainPattern, host: string): boolean {
  if (host === pattern.name) return pattern.reach !== 'only-under';
  return pattern.reach !== 'exact' && host.endsWith(`.${pattern.name}`);
}

const MARKS: Record<DomainReach, string> = { exact: '', under: '.', 'only-under': '*.' };

/** The pattern as rules and lists write it: `name`, `.name` or `*.name`. */
export const formatDomainPattern = (pattern: DomainPattern): string => MARKS[pattern.reach] + pattern.name;
