import type { FieldHelp } from '../edit/fields.js';
import { COUNTRIES } from '../marks/country.js';

/** A key of an object, and how a form shows it. */
export type ObjectField = {
  readonly key: string;
  readonly label: string;
  readonly about?: string;
} & (
  | { readonly as: 'line'; readonly hint?: string; readonly prose?: boolean }
  | { readonly as: 'text' }
  | { readonly as: 'number'; readonly from: number; readonly to: number }
  /** The name of another object, or none. */
  | { readonly as: 'name'; readonly kind: string }
  | { readonly as: 'words'; readonly help: FieldHelp }
  /** Names of lists of the same sort. */
  | { readonly as: 'lists' }
  | { readonly as: 'sort' }
  | { readonly as: 'conditions' }
  | { readonly as: 'zone' }
  | { readonly as: 'week' }
  | {
      readonly as: 'pairs';
      readonly ofKey: PairPart;
      readonly ofValue: PairPart & { readonly options?: readonly string[] };
    }
  /** The destinations of a check, and the answers that are expected at them. */
  | { readonly as: 'grid' }
);

interface PairPart {
  readonly label: string;
  readonly hint: string;
  readonly type?: string;
}

const NOTE: ObjectField = { key: 'note', label: 'Note', as: 'line', hint: 'What it is for', prose: true };

/** The keys of each kind of object as people write them, behind that of its name. Policies have a form of their own. */
export const OBJECT_FIELDS: Readonly<Record<string, readonly ObjectField[]>> = {
  list: [
    { key: 'of', label: 'Its entries are', as: 'sort' },
    NOTE,
    { key: 'include', label: 'It includes', about: 'Lists of the same sort, whose entries are in it too', as: 'lists' },
  ],
  category: [
    NOTE,
    {
      key: 'domains',
      label: 'Hosts in it',
      about: 'Names, lists of domains; a dot in front takes everything under it too',
      as: 'words',
      help: { field: 'domains', hint: '.name.example, name.example', lists: 'domains' },
    },
    {
      key: 'urls',
      label: 'Pages in it',
      as: 'words',
      help: { field: 'urls', hint: 'name.example/films/**', lists: 'urls' },
    },
  ],
  application: [
    NOTE,
    { key: 'when', label: 'A request is of it', as: 'conditions' },
    { key: 'category', label: 'Its subject', as: 'name', kind: 'category' },
    { key: 'risk', label: 'Risk', about: 'From 1, harmless, to 5', as: 'number', from: 1, to: 5 },
    {
      key: 'needs',
      label: 'It needs',
      about: 'Applications that must be allowed too for it to work',
      as: 'words',
      help: { field: 'needs', hint: 'names of applications', names: 'application' },
    },
  ],
  schedule: [
    NOTE,
    { key: 'zone', label: 'Time zone', as: 'zone' },
    { key: 'weekly', label: 'Each week', as: 'week' },
    {
      key: 'except',
      label: 'But on these days',
      as: 'pairs',
      ofKey: { label: 'Day', hint: '2026-12-25', type: 'date' },
      ofValue: { label: 'Hours', hint: 'closed, open, 09:00-12:00', options: ['closed', 'open'] },
    },
  ],
  notice: [
    NOTE,
    { key: 'status', label: 'Status', about: 'The code that the client gets', as: 'number', from: 200, to: 599 },
    { key: 'title', label: 'Title', as: 'line', prose: true },
    {
      key: 'text',
      label: 'Text',
      about: '{host}, {rule}, {policy} and {request} are replaced by those of the request',
      as: 'text',
    },
    { key: 'contact', label: 'Whom to ask', as: 'line', hint: 'help@name.example' },
  ],
  probe: [
    NOTE,
    { key: 'client', label: 'Address', as: 'line', hint: '198.51.100.10' },
    { key: 'country', label: 'Country', about: 'In place of what the country data says', as: 'line', hint: 'PT' },
    { key: 'user', label: 'User', as: 'line' },
    { key: 'groups', label: 'Groups', as: 'words', help: { field: 'groups', hint: 'names of groups' } },
    { key: 'agent', label: 'Client software', as: 'line', hint: 'Meadowlark/12.1' },
    {
      key: 'headers',
      label: 'Headers',
      as: 'pairs',
      ofKey: { label: 'Header', hint: 'accept-language' },
      ofValue: { label: 'Value', hint: 'pt' },
    },
  ],
  corrections: [
    NOTE,
    {
      key: 'networks',
      label: 'Networks',
      about: 'What is said here goes before the country data',
      as: 'pairs',
      ofKey: { label: 'Network', hint: '198.51.100.0/24' },
      ofValue: { label: 'Country', hint: 'PT, private, unknown', options: ['private', 'unknown', ...COUNTRIES] },
    },
  ],
  check: [
    NOTE,
    { key: 'policy', label: 'Judged by', about: 'None: by the policy that covers it', as: 'name', kind: 'policy' },
    { key: 'at', label: 'At', about: 'The instant, for schedules', as: 'line', hint: '2026-11-12T10:00:00Z' },
    { key: 'expect', label: 'Who gets where', as: 'grid' },
  ],
};

/** The order of the keys of a kind, as people write them. */
export const orderOf = (kind: string): readonly string[] => [
  kind,
  ...(OBJECT_FIELDS[kind] ?? []).flatMap(({ key }) => (key === 'expect' ? ['destinations', key] : [key])),
];
