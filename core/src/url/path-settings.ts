import { withoutDots } from './path.js';

/** How a policy reads paths, its rules' own and those of requests alike, as the servers behind it do. */
export interface PathSettings {
  /** `merge`: several slashes behind each other are one. */
  readonly slashes: 'merge' | 'keep';
  /** `ignore`: letters are compared in lower case. */
  readonly case: 'keep' | 'ignore';
  /** `drop`: what is behind a semicolon in a segment is taken off. */
  readonly parameters: 'keep' | 'drop';
}

/** The default settings of web servers. */
export const DEFAULT_PATHS: PathSettings = { slashes: 'merge', case: 'keep', parameters: 'keep' };

/** A path in the normal form of `normalPath`, as a policy with these settings reads it. Doing it again changes nothing. */
export function pathUnder(settings: PathSettings, path: string): string {
  let form = path;
  if (settings.parameters === 'drop' && form.includes(';')) form = form.replace(/;[^/]*/g, '');
  if (settings.slashes === 'merge' && form.includes('//')) form = form.replace(/\/{2,}/g, '/');
  form = withoutDots(form);
  return settings.case === 'ignore' ? form.toLowerCase() : form;
}
