import type { WorkspaceBody } from '@jade-fence/contract';

/** Something that the box leads to by its name. */
export interface Named {
  readonly name: string;
  readonly to: string;
}

const PAGES: readonly Named[] = [
  { name: 'go to compare', to: '/compare' },
  { name: 'go to try', to: '/try' },
  { name: 'go to review', to: '/review' },
  { name: 'go to checks', to: '/checks' },
  { name: 'go to library', to: '/library' },
  { name: 'go to logs', to: '/logs' },
  { name: 'go to draft', to: '/draft' },
  { name: 'go to history', to: '/history' },
  { name: 'go to live', to: '/live' },
  { name: 'go to usage of rules', to: '/usage' },
  { name: 'go to people', to: '/people' },
  { name: 'go to your account', to: '/people/you' },
  { name: 'go to audit', to: '/audit' },
];

const KINDS = ['list', 'category', 'application', 'schedule', 'notice', 'probe', 'check', 'corrections'];

/** Pages and deeds by their names, which begin with `go to`, `new` and `edit`; deeds only for who may edit. */
export function deedsIn({ policies }: WorkspaceBody, mayEdit: boolean): readonly Named[] {
  if (!mayEdit) return PAGES;
  return [
    ...PAGES,
    ...policies.map(({ policy }) => ({ name: `new rule in ${policy}`, to: `/policies/${policy}?edit=%2B` })),
    ...policies.map(({ policy }) => ({ name: `edit policy ${policy}`, to: `/policies/${policy}?edit=%40` })),
    ...KINDS.map((kind) => ({ name: `new ${kind}`, to: `/library/${kind}/+` })),
  ];
}
