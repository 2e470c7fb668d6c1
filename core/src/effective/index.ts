export { type EffectivePolicy, type EffectiveRule, effectivePolicy } from './effective.js';
