import type { Explanation } from '@jade-fence/core/engine';

export type ExplainedRole = Explanation['rules'][number]['role'];

/** The roles that a replay lists requests by, in the order in which they are shown. */
export const LISTED_ROLES = ['decided', 'tagged', 'observed', 'overtaken', 'blind'] as const;
export type ListedRole = (typeof LISTED_ROLES)[number];

export const isListedRole = (text: string | null): text is ListedRole => LISTED_ROLES.some((role) => role === text);
