import type { WorkspaceBody } from '@jade-fence/contract';
import { COUNTRIES, nameOfCountry } from '../marks/country.js';

/** A field that a rule may test, and what helps to fill it. */
export interface FieldHelp {
  readonly field: string;
  /** Its label. */
  readonly hint: string;
  /** The sort of lists that it takes. */
  readonly lists?: string;
  /** The objects whose names it takes. */
  readonly names?: string;
  readonly words?: readonly string[];
}

export const FIELDS: readonly FieldHelp[] = [
  { field: 'client', hint: '10.40.0.0/16, 198.51.100.10-198.51.100.19', lists: 'addresses' },
  { field: 'country', hint: 'PT, unknown, private', lists: 'countries', words: ['unknown', 'private'] },
  { field: 'destination-country', hint: 'PT, unknown, private', lists: 'countries', words: ['unknown', 'private'] },
  { field: 'host', hint: 'name.example, .name.example, *.name.example', lists: 'domains' },
  { field: 'path', hint: '/account/*, /films/**, ~^/calls/v[01]/' },
  { field: 'category', hint: 'names of categories', names: 'category', words: ['uncategorised'] },
  { field: 'application', hint: 'names of applications', names: 'application', words: ['unidentified'] },
  {
    field: 'method',
    hint: 'GET, POST',
    words: ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS', 'CONNECT'],
  },
  { field: 'time', hint: 'names of schedules', names: 'schedule' },
  { field: 'user', hint: 'names, anonymous', lists: 'users', words: ['anonymous'] },
  { field: 'group', hint: 'names, anonymous', lists: 'users', words: ['anonymous'] },
  { field: 'url', hint: 'host.example/path/**', lists: 'urls' },
  { field: 'scheme', hint: 'http, https', words: ['http', 'https', 'ws', 'wss'] },
  { field: 'port', hint: '443, 8000-8099', words: ['80', '443', '8080', '53', '22'] },
  { field: 'protocol', hint: 'HTTP/1.1', words: ['HTTP/1.1', 'HTTP/2.0', 'HTTP/3.0'] },
  { field: 'agent', hint: 'Meadowlark/*, present, absent', lists: 'agents', words: ['present', 'absent'] },
  { field: 'referrer', hint: 'https://name.example/*, absent', words: ['present', 'absent'] },
  { field: 'size', hint: '> 1MiB' },
  { field: 'destination', hint: '203.0.113.0/24', lists: 'addresses' },
  { field: 'peer', hint: '10.10.1.4', lists: 'addresses' },
  { field: 'tag', hint: 'words of rules above' },
];

export const helpFor = (field: string): FieldHelp =>
  FIELDS.find((each) => each.field === field) ?? {
    field,
    hint: 'value, present, absent',
    words: ['present', 'absent'],
  };

/** Whether the field takes codes of countries. */
export const isOfCountries = (field: string): boolean => field === 'country' || field === 'destination-country';

export interface Suggested {
  readonly value: string;
  readonly detail: string;
  /** How many requests of the log that is shown have it, in words. */
  readonly inLog?: string;
}

/** What a field can be filled with from the workspace. */
export function suggestionsFor({ field, lists, names, words = [] }: FieldHelp, workspace: WorkspaceBody): Suggested[] {
  const countries = isOfCountries(field) ? COUNTRIES : [];
  return [
    ...workspace.lists
      .filter(({ of }) => of === lists)
      .map(({ list, entries }) => ({ value: list, detail: `list of ${entries.toLocaleString('en')}` })),
    ...workspace.objects
      .filter(({ kind }) => kind === names)
      .map(({ name, sentence, note }) => ({ value: name, detail: note ?? sentence })),
    ...words.map((value) => ({ value, detail: '' })),
    ...countries.map((value) => ({ value, detail: nameOfCountry(value) })),
  ];
}
