/**
 * Why a replay was ordered: a person ordered it, or it shows the effect of an edit while that is made. Effects are
 * in nobody's list, and removed after a while.
 */
export const PURPOSES = ['asked', 'effect'] as const;
export type Purpose = (typeof PURPOSES)[number];
